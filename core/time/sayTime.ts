/** Minutes and seconds, with as many decimals as asked for: 04:10 or 04:10.250. */
export function sayTime(seconds: number, decimals = 0): string {
  const factor = 10 ** decimals;
  const rounded = Math.round(seconds * factor) / factor;
  const hours = Math.floor(rounded / 3600);
  const minutes = String(Math.floor(rounded / 60) % 60).padStart(2, '0');
  const rest = (rounded % 60).toFixed(decimals).padStart(decimals > 0 ? decimals + 3 : 2, '0');
  return hours > 0 ? `${hours}:${minutes}:${rest}` : `${minutes}:${rest}`;
}

/** How long something lasts, as one says it: "3 min 12 s"; under ten seconds to a tenth. */
export function sayDuration(seconds: number): string {
  if (seconds < 9.95) return `${Number(seconds.toFixed(1))} s`;
  const whole = Math.round(seconds);
  const parts = [
    [Math.floor(whole / 3600), 'h'],
    [Math.floor(whole / 60) % 60, 'min'],
    [whole % 60, 's'],
  ] as const;
  const first = parts.findIndex(([count]) => count > 0);
  // After hours nobody counts seconds.
  return parts
    .slice(first, first + 2)
    .filter(([count], i) => i === 0 || count > 0)
    .map(([count, unit]) => `${count} ${unit}`)
    .join(' ');
}

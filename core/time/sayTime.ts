/** Minutes and seconds, with as many decimals as asked for: 04:10 or 04:10.250. */
export function sayTime(seconds: number, decimals = 0): string {
  const factor = 10 ** decimals;
  const rounded = Math.round(seconds * factor) / factor;
  const hours = Math.floor(rounded / 3600);
  const minutes = String(Math.floor(rounded / 60) % 60).padStart(2, '0');
  const rest = (rounded % 60).toFixed(decimals).padStart(decimals > 0 ? decimals + 3 : 2, '0');
  return hours > 0 ? `${hours}:${minutes}:${rest}` : `${minutes}:${rest}`;
}

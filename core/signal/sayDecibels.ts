const MINUS = '\u2212';

/** A number for people: a real minus sign, a fixed number of decimals, an infinity sign for nothing. */
export function sayNumber(value: number | null, decimals = 1): string {
  if (value === null || value === -Infinity) return `${MINUS}∞`;
  const text = Math.abs(value).toFixed(decimals);
  return value < 0 && Number(text) !== 0 ? MINUS + text : text;
}

/** A level or gain with its unit: "−62.4 dBFS". */
export function sayDecibels(value: number | null, unit: 'dB' | 'dBFS' | 'dBTP' | 'LUFS' | 'LU', decimals = 1): string {
  return `${sayNumber(value, decimals)} ${unit}`;
}

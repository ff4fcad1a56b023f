/** Runs contenders in turn, several rounds, so that the machine's moods fall on all of them. @returns the median seconds of each */
export async function rounds(
  count: number,
  contenders: Record<string, () => void | Promise<void>>,
): Promise<Record<string, number>> {
  const seconds = Object.fromEntries(Object.keys(contenders).map((name) => [name, [] as number[]]));
  for (let round = 0; round < count; round++) {
    for (const [name, run] of Object.entries(contenders)) {
      const start = process.hrtime.bigint();
      await run();
      seconds[name].push(Number(process.hrtime.bigint() - start) / 1e9);
    }
  }
  return Object.fromEntries(
    Object.entries(seconds).map(([name, values]) => [
      name,
      values.sort((a, b) => a - b)[Math.floor(values.length / 2)],
    ]),
  );
}

/**
 * Median time of one call, in ms: warmed up, in batches, so that the clock's grain does not
 * matter. Ratios of two of these in one run mean something; single values are this machine's.
 */
export function median(work: () => void, batch = 1, rounds = 31): number {
  const warm = performance.now();
  for (let i = 0; i < 3 || performance.now() - warm < 400; i++) work();
  const times: number[] = [];
  for (let r = 0; r < rounds; r++) {
    const start = performance.now();
    for (let i = 0; i < batch; i++) work();
    times.push((performance.now() - start) / batch);
  }
  return times.sort((a, b) => a - b)[rounds >> 1];
}

export const line = (label: string, value: string): void => console.log(`${label.padEnd(64)} ${value.padStart(16)}`);
export const ms = (t: number): string => (t < 0.1 ? `${(t * 1000).toFixed(2)} µs` : `${t.toFixed(3)} ms`);

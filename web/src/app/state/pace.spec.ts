import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Pace } from './pace';

describe('the rate at which figures are read', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('tells the first movement at once and the last always, at most every 80 ms between', () => {
    const told: number[] = [];
    const begun = performance.now();
    const pace = new Pace(() => told.push(performance.now() - begun));
    // 60 frames a second for half a second.
    for (let k = 0; k < 30; k++) {
      pace.touch();
      vi.advanceTimersByTime(1000 / 60);
    }
    const moved = 29 * (1000 / 60);
    vi.advanceTimersByTime(200);
    expect(told[0]).toBe(0);
    expect(told.at(-1)).toBeGreaterThanOrEqual(Math.floor(moved));
    for (let k = 1; k < told.length; k++) expect(told[k] - told[k - 1]).toBeGreaterThanOrEqual(79);
    expect(told.length).toBeLessThanOrEqual(8);
  });

  it('tells nothing more once it has ended', () => {
    let told = 0;
    const pace = new Pace(() => told++);
    pace.touch();
    pace.touch();
    pace.end();
    vi.advanceTimersByTime(500);
    expect(told).toBe(1);
  });
});

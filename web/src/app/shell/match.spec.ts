import { describe, expect, it } from 'vitest';
import { matchScore } from './match';

const best = (typed: string, ...names: string[]): string | undefined =>
  names
    .map((n) => ({ n, score: matchScore(n, typed) }))
    .filter((x) => x.score > 0)
    .sort((a, b) => b.score - a.score)[0]?.n;

describe('finding by name', () => {
  it('takes words in any order, and prefers those that begin a name, then a word', () => {
    expect(best('wheel teeth', 'Teeth of Spur wheel', 'Width of Spur wheel', 'Spur wheel')).toBe('Teeth of Spur wheel');
    expect(best('pin', 'Spindle', 'Lower pin', 'Pinion shaft')).toBe('Pinion shaft');
    expect(best('rack', 'Track', 'Lower rack')).toBe('Lower rack');
    expect(best('nothing', 'Track')).toBeUndefined();
    expect(matchScore('Anything', '  ')).toBeGreaterThan(0);
  });
});

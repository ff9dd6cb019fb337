import { describe, expect, it } from 'vitest';
import { eitherOf, listed, listedUpTo } from './listed';

describe('names in a sentence', () => {
  it('are joined as people write them, without a comma before the last', () => {
    expect([[], ['a'], ['a', 'b'], ['a', 'b', 'c']].map(listed)).toEqual(['', 'a', 'a and b', 'a, b and c']);
    expect([['a'], ['a', 'b'], ['a', 'b', 'c']].map(eitherOf)).toEqual(['a', 'a or b', 'a, b or c']);
  });
  it('of many are the first few, and how many more there are', () => {
    const names = ['a', 'b', 'c', 'd', 'e'];
    expect(listedUpTo(5, names)).toBe('a, b, c, d and e');
    expect(listedUpTo(3, names)).toBe('a, b, c and 2 more');
  });
});

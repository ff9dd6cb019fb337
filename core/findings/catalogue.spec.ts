import { describe, expect, it } from 'vitest';
import { CATALOGUE, STEPS } from './catalogue';
import { DUTY } from './duty';
import { LAYOUT } from './layout';
import { LOADS } from './loads';
import { MOTION } from './motion';
import { TRAIN } from './train';

describe('the catalogue of findings', () => {
  it('has each key once, in the file of its step', () => {
    const files = { duty: DUTY, train: TRAIN, layout: LAYOUT, motion: MOTION, loads: LOADS };
    expect(Object.keys(CATALOGUE)).toEqual(Object.values(files).flatMap((f) => Object.keys(f)));
    for (const [step, file] of Object.entries(files)) for (const entry of Object.values(file)) expect(entry.step).toBe(step);
    // Rating has figures, and release shows the findings of the others.
    expect([...Object.keys(files), 'rating', 'release']).toEqual([...STEPS]);
  });
});

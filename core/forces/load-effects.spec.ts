import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Builder } from '../testing/designs';
import { loadEffects } from './load-effects';

describe('what a load does', () => {
  it('opposes, drives or does not load the train, by its power; nothing is said while everything stands', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    const rises = b.slide([100, 0, 0], [0, 0, 1]);
    b.couple('proportional', { a: s.joint, b: rises.joint, amountA: 1, amountB: 20 });
    b.motor(s.joint, 30);
    const put = (type: string, fields: Record<string, unknown>): string => b.load(type, fields);
    const against = put('torque', { member: s.member, torque: [0, 0, -3] }),
      along = put('torque', { member: s.member, torque: [0, 0, 2] }),
      across = put('torque', { member: s.member, torque: [4, 0, 0] }),
      hangs = put('force', { member: rises.member, force: [0, 0, -50] }),
      sideways = put('force', { member: rises.member, force: [50, 0, 0] }),
      rubs = put('joint-friction', { joint: rises.joint, value: 5 }),
      brakes = put('joint-brake', { joint: s.joint, value: 1 });
    const effects = loadEffects(analyse(b.design).forces);
    expect(Object.fromEntries(effects)).toEqual({
      [against]: 'opposes',
      [along]: 'drives',
      [across]: 'idle',
      [hangs]: 'opposes',
      [sideways]: 'idle',
      [rubs]: 'opposes',
      [brakes]: 'opposes',
    });
    const still = { ...b.design, sources: b.design.sources.map((x) => ({ ...x, speed: 0 })) };
    expect(loadEffects(analyse(still).forces).size).toBe(0);
  });
});

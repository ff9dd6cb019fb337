import { describe, expect, it, vi } from 'vitest';
import { analyse } from '../checks/index';
import { Builder } from './designs';
import { oldham } from './oldham';

// The one line in the registry.
vi.mock('../couplings/index', async (original) => {
  const all = await original<typeof import('../couplings/index')>();
  return { ...all, couplingKind: (type: string) => (type === 'oldham' ? oldham : all.couplingKind(type)) };
});

const shafts = (axis: [number, number, number], efficiency?: number): ReturnType<typeof analyse> => {
  const b = new Builder().weightless();
  const a = b.shaft([0, 0, 0]),
    s = b.shaft([3, 0, 40], 'frame', { axis });
  b.couple('oldham', { a: a.joint, b: s.joint, ...(efficiency === undefined ? {} : { efficiency }) });
  b.motor(a.joint, 60);
  b.design.loads.push({ id: 'load', name: 'Load', type: 'joint-load', ...{ joint: s.joint, value: -5 } });
  return analyse(b.design);
};

describe('the coupling that CONTRIBUTING.md adds', () => {
  it('turns the second shaft as the first, exactly, and loses what its efficiency says', () => {
    const w = shafts([0, 0, 1], 0.95);
    expect(w.findings.filter((f) => f.severity === 'fault')).toEqual([]);
    expect(w.ledger.lines.map((l) => l.speed)).toEqual([expect.closeTo(60, 9), expect.closeTo(60, 9)]);
    expect(w.ledger.sources[0].load).toBeCloseTo(5 / 0.95, 9);
    expect(w.ledger.input - w.ledger.output - w.ledger.loss).toBeCloseTo(0, 9);
  });
  it('takes the sense from geometry: a shaft whose axis looks the other way turns backward about it', () => {
    expect(shafts([0, 0, -1]).ledger.lines[1].speed).toBeCloseTo(-60, 9);
  });
  it('is refused where the axes are not parallel', () => {
    expect(shafts([0, 1, 0]).findings.map((f) => f.code)).toContain('axes-not-parallel');
  });
});

import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { emptyDesign } from '../document/index';
import type { RatchetWheel } from '../elements/index';
import type { Design } from '../fields/types';
import { withRatchetSense } from './index';
import { insertStage, withInputShaft } from '../sizing/index';

const drum = (values: Record<string, number | string> = {}): Design => {
  const start = withInputShaft(emptyDesign('Winch'), { type: 'motor', name: 'Crank', fields: { speed: 30 } });
  return insertStage(start.design, { kind: 'ratchet', from: start.output, values })!.design;
};
const wheelOf = (d: Design): RatchetWheel => d.elements.find((e) => e.type === 'ratchet-wheel') as RatchetWheel;
const codes = (d: Design): string[] => analyse(d).findings.map((f) => f.code);
const reversed = (d: Design): Design => ({ ...d, sources: d.sources.map((s) => ({ ...s, speed: -30 })) });

describe('a pawl with its wheel', () => {
  it.each([0, 30, -90, 180, 217])('stands at a face of its wheel in any direction about it: %i°', (angle) => {
    for (const free of ['forward', 'back']) {
      const d = drum({ angle, free });
      expect(codes(d)).not.toContain('pawl-between-teeth');
      expect(codes(d)).not.toContain('pawl-off-wheel');
    }
  });
  it('has the moment of its spring, and says what turning under it takes', () => {
    const riding = (d: Design): number => {
      const { compiled } = analyse(d);
      return Number(compiled.couplings[0].model.derived?.find((x) => x.key === 'riding')?.value);
    };
    const d = drum({ press: 0.5 });
    expect(d.elements.find((e) => e.type === 'pawl')).toMatchObject({ press: 0.5 });
    expect(riding(d)).toBeGreaterThan(0.01);
    expect(riding(drum())).toBe(0);
  });
  it.each([0, 75, -140])('goes to the other side when the wheel is to let the other sense pass: %i°', (angle) => {
    const d = drum({ angle });
    expect(codes(d)).not.toContain('grip-against-source');
    expect(codes(reversed(d))).toContain('grip-against-source');
    const back = withRatchetSense(d, wheelOf(d).id, 'back');
    expect(wheelOf(back).free).toBe('back');
    expect(codes(back)).toContain('grip-against-source');
    const turned = reversed(back);
    for (const code of ['grip-against-source', 'pawl-between-teeth', 'pawl-off-wheel']) expect(codes(turned)).not.toContain(code);
    // There and back again: the pawl stands where it stood.
    const again = withRatchetSense(back, wheelOf(back).id, 'forward');
    const pawl = (x: Design) => x.elements.find((e) => e.type === 'pawl')!;
    pawl(again).at!.forEach((v, k) => expect(v).toBeCloseTo(pawl(d).at![k], 6));
    expect(codes(again)).not.toContain('pawl-between-teeth');
  });
  it('is left alone where nothing changes, and a wheel without one only takes its sense', () => {
    const d = drum();
    expect(withRatchetSense(d, wheelOf(d).id, 'forward')).toBe(d);
    expect(withRatchetSense(d, 'nothing', 'back')).toBe(d);
    const bare = { ...d, couplings: [] };
    expect(wheelOf(withRatchetSense(bare, wheelOf(d).id, 'back')).free).toBe('back');
  });
});

import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, emptyDesign, readDesign, unitSettings } from '../document/index';
import { elementKind } from '../elements/index';
import { exactly, toNumber } from '../math/index';
import { INCH, readQuantity, usualInch } from '../units/index';
import { addPart } from '../sizing/build/index';
import { STAGE_KINDS, insertStage, offersFor, stageKind, stageValues, withInputShaft } from '../sizing/index';

const inchDesign = (): Design => ({ ...emptyDesign('Hoist'), settings: unitSettings(INCH) });

/** Whether a size is one that stands on a drawing in inches: whole sixty-fourths, or a whole number to the inch. */
function inches(mm: number): boolean {
  const near = (x: number): boolean => Math.abs(x - Math.round(x)) < 1e-6;
  return near((mm * 64) / 25.4) || near(25.4 / mm);
}

describe('an inch design', () => {
  it.each([
    [20, 0.75],
    [24, 1],
    [100, 4],
    [200, 8],
    [600, 24],
    [6, 0.25],
    [0.3, 0.0625],
    [0, 0],
    [-20, -0.75],
  ])('has a usual size near %f mm: %f in', (mm, inch) => {
    expect(usualInch(mm) / 25.4).toBeCloseTo(inch, 12);
  });
  it.each(STAGE_KINDS.map((k) => k.kind))('begins a stage with inch sizes, and it works: %s', (name) => {
    const kind = stageKind(name)!;
    const values = stageValues(kind, {}, true);
    for (const f of kind.fields) {
      const v = values[f.key];
      if (f.unit !== 'mm' || typeof v === 'boolean') continue;
      const mm = toNumber(exactly(v));
      expect(mm === 0 || inches(mm), `${f.key} ${v}`).toBe(true);
    }
    const start = withInputShaft(inchDesign(), { type: 'motor', name: 'Motor', fields: { speed: 60 } });
    const made = insertStage(start.design, { kind: name, from: start.output });
    expect(made, name).toBeDefined();
    expect(readDesign(made!.design).problems).toBeUndefined();
    expect(analyse(made!.design).findings.filter((f) => f.severity === 'fault')).toEqual([]);
  });
  it('begins a new part with inch sizes', () => {
    for (const kind of ['shaft', 'slide', 'lever', 'body', 'frame']) {
      const made = addPart(inchDesign(), kind);
      const e = made.design.elements.find((x) => x.id === made.element)!;
      for (const f of elementKind(e.type)!.fields) {
        const v = (e as unknown as Record<string, unknown>)[f.key];
        if (f.unit === 'mm' && typeof v === 'number') expect(inches(v), `${kind} ${f.key} ${v}`).toBe(true);
      }
    }
  });
  it('offers diametral pitches before modules, and writes sizes in inches', () => {
    expect(offersFor('gear', 'module', {}, true)[0].label).toBe('48 1/in (diametral pitch)');
    expect(offersFor('gear', 'module')[0].label).toBe('1 mm, ISO 54 series I');
    expect(offersFor('chain', 'pitch', {}, true).map((o) => o.label)).toContain('0.5 in, 08B');
    expect(offersFor('toothed-belt', 'pitch', {}, true).map((o) => o.label)).toContain('0.2 in, XL');
  });
  it('reads a module as a diametral pitch and a pitch as a module', () => {
    expect(readQuantity('12/in', 'mm')).toMatchObject({ value: 25.4 / 12 });
    expect(readQuantity('2 mm', '1/in')).toMatchObject({ value: 12.7 });
    expect(readQuantity('12 DP', '1/in')).toMatchObject({ value: 12 });
    expect(readQuantity('2 N', '1/in')).toHaveProperty('problem');
  });
});

describe('what was typed for a stage', () => {
  it('is kept with the elements that take the size as it was typed', () => {
    const start = withInputShaft(emptyDesign('Hoist'), { type: 'motor', name: 'Motor' });
    const made = insertStage(start.design, {
      kind: 'spur',
      from: start.output,
      values: { module: '127/60', width: 19.05 },
      typed: { module: '12 DP', width: '3/4 in' },
    })!;
    const wheels = made.design.elements.filter((e) => e.type === 'gear');
    const texts = made.design.typed ?? {};
    for (const w of wheels) {
      expect(texts[`${w.id}.module`]).toBe('12 DP');
      // A pinion is a little wider than its wheel: its width is another number, and was not typed.
      const width = (w as { width?: number }).width;
      expect(texts[`${w.id}.width`]).toBe(width === 19.05 ? '3/4 in' : undefined);
    }
    expect(readDesign(made.design).problems).toBeUndefined();
  });
});

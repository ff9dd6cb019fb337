import { exactField } from '../../fields/fields';
import { vadd, vscale } from '../../math/index';
import { StageBuilder } from './builder';
import type { StageKind } from './protocol';
import { ANGLE, WIDTH, DISTANCE, LARGEST_RIM, quotient, rims } from './sizes';

/** Two wheels with a belt or a chain round both. */
export function wrapped(b: StageBuilder, form: 'v' | 'flat' | 'toothed' | 'sprocket'): void {
  const f = b.frameOf(b.from),
    w = b.n('width');
  const z = b.next(b.from, w),
    d = b.direction(f);
  const counted = form === 'toothed' || form === 'sprocket';
  const size = (k: 1 | 2): Record<string, unknown> =>
    counted ? { form, pitch: b.exact('pitch'), teeth: b.n(`z${k}`), width: w } : { form, diameter: b.exact(`d${k}`), width: w };
  const radius = (k: 1 | 2): number => (counted ? (b.n(`z${k}`) * b.n('pitch')) / (2 * Math.PI) : b.n(`d${k}`) / 2);
  const r1 = radius(1),
    r2 = radius(2);
  let a = b.n('distance') || Math.round(1.5 * (r1 + r2) + 20);
  if (counted && !b.n('distance')) {
    // The nearest distance at which the belt has a whole number of teeth, or the chain an even number of links.
    const p = b.n('pitch');
    const length = (c: number): number => {
      const s = Math.asin((r2 - r1) / c);
      return 2 * c * Math.cos(s) + Math.PI * (r1 + r2) + 2 * s * (r2 - r1);
    };
    const step = form === 'sprocket' ? 2 * p : p;
    const want = Math.ceil(length(a) / step) * step;
    let lo = a,
      hi = a + 4 * step;
    for (let k = 0; k < 60; k++) {
      const mid = (lo + hi) / 2;
      if (length(mid) < want) lo = mid;
      else hi = mid;
    }
    a = (lo + hi) / 2;
  }
  const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, a));
  const out = b.shaft('Shaft', o, f.z, f.x);
  const word = form === 'sprocket' ? 'Sprocket' : 'Pulley';
  const p1 = b.element('pulley', b.from, word, { ...size(1), at: [0, 0, z] });
  const p2 = b.element('pulley', out, word, size(2));
  b.couple(
    form === 'sprocket' ? 'chain' : 'belt',
    form === 'sprocket' ? 'Chain' : form === 'toothed' ? 'Toothed belt' : form === 'v' ? 'V-belt' : 'Flat belt',
    {
      wheels: [p1, p2],
      // Teeth lose less than friction does: stated, so that it is seen. Common practice.
      ...(form === 'toothed' ? { efficiency: 0.98 } : {}),
    },
  );
  b.output = out;
}

/** A belt that drives by friction, by the diameters of its rims. */
export const frictionBelt = (kind: string, label: string, form: 'v' | 'flat', width: number): StageKind => ({
  kind,
  label,
  does: 'turn at a distance',
  ratio: 'turns',
  usual: 8,
  fields: [
    exactField('d1', 'Diameter of the driver', { unit: 'mm', initial: 100, above: 0, max: LARGEST_RIM }),
    exactField('d2', 'Diameter of the driven', { unit: 'mm', initial: 200, above: 0, max: LARGEST_RIM }),
    { ...WIDTH, label: 'Width', initial: width },
    DISTANCE,
    ANGLE,
  ],
  forRatio: rims,
  gives: quotient('d1', 'd2'),
  bounds: 'a pulley has at most 100 m of diameter',
  build: (b) => wrapped(b, form),
});

import { moduleField, numberField } from '../../fields/fields';
import { vadd, vscale } from '../../math/index';
import { GAP, StageBuilder } from './builder';
import type { StageKind, StageProblem } from './protocol';
import { ANGLE, teeth, PAIR_BOUNDS, pairFor, quotient, size } from './sizes';
import type { Values } from './values';

export const bevel: StageKind = {
  kind: 'bevel',
  label: 'Bevel pair',
  does: 'turn to turn round a corner',
  ratio: 'turns',
  usual: 5,
  fields: [
    teeth('z1', 'Teeth of the pinion', 20, 6, 500),
    teeth('z2', 'Teeth of the wheel', 40, 6, 500),
    moduleField('Outer module', 'me', { initial: 3 }),
    numberField('corner', 'Angle between the axes', { unit: 'deg', symbol: 'Σ', initial: 90, min: 20, max: 150 }),
    ANGLE,
  ],
  forRatio: pairFor,
  gives: quotient('z1', 'z2'),
  bounds: PAIR_BOUNDS,
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const m = b.n('module'),
      z1 = b.n('z1'),
      z2 = b.n('z2'),
      sigma = (b.n('corner') * Math.PI) / 180;
    const d1 = Math.atan2(Math.sin(sigma), z2 / z1 + Math.cos(sigma)),
      d2 = sigma - d1;
    const cone = (m * z1) / 2 / Math.sin(d1);
    const width = Number(Math.min(cone / 3, 10 * m).toPrecision(4));
    // The pinion's cone opens back towards the shaft it is on: its apex lies ahead by the wheel's reach.
    const place = b.next(b.from, 0) + Math.ceil(cone * Math.cos(d1) + 2 * m) + GAP;
    const d = b.direction(f);
    const apex = vadd(f.o, vscale(f.z, place));
    const back = vscale(f.z, -1);
    const axis = vadd(vscale(back, Math.cos(sigma)), vscale(d, Math.sin(sigma)));
    const out = b.shaft('Cross shaft', apex, axis, f.z);
    const g1 = b.element('bevel-gear', b.from, 'Bevel pinion', {
      teeth: z1,
      module: b.exact('module'),
      coneAngle: Number(((d1 * 180) / Math.PI).toFixed(10)),
      width,
      at: [0, 0, place],
      axis: [0, 0, -1],
      up: [1, 0, 0],
    });
    const g2 = b.element('bevel-gear', out, 'Bevel wheel', {
      teeth: z2,
      module: b.exact('module'),
      coneAngle: Number(((d2 * 180) / Math.PI).toFixed(10)),
      width,
    });
    b.couple('bevel-pair', 'Bevel pair', { a: g1, b: g2 });
    b.output = out;
  },
  problem(values: Values): StageProblem | undefined {
    const v = (key: string): number => size(values, key);
    const corner = (v('corner') * Math.PI) / 180;
    const larger = Math.max(v('z1'), v('z2'));
    const smaller = Math.min(v('z1'), v('z2'));
    // The cone of the larger wheel, atan2(sin Σ, z1/z2 + cos Σ), must be less than a flat disc.
    if (smaller / larger + Math.cos(corner) > 1e-9) return undefined;
    return {
      field: 'corner',
      message: `at this corner the wheel of ${larger} teeth would be flat or hollow: a smaller corner, or counts nearer to each other`,
    };
  },
};

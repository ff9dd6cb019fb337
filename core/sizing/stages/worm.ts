import { moduleField, numberField, wholeField } from '../../fields/fields';
import { vadd, vscale } from '../../math/index';
import { StageBuilder, perpendicular } from './builder';
import type { StageKind, StageProblem } from './protocol';
import { ANGLE, quotient, size, teeth } from './sizes';
import type { Values } from './values';

/** A thread steeper than this is no worm's, deg. */
const STEEPEST = 60;

export const worm: StageKind = {
  kind: 'worm',
  label: 'Worm drive',
  does: 'turn to slow turn across',
  ratio: 'turns',
  fields: [
    wholeField('starts', 'Starts of the worm', { initial: 1, min: 1, max: 12 }),
    teeth('z2', 'Teeth of the wheel', 40, 8, 1000),
    moduleField('Axial module', 'mx', { initial: 3, max: 500 }),
    numberField('quotient', 'Diameter quotient', { symbol: 'q', initial: 10, min: 6, max: 25 }),
    ANGLE,
  ],
  // As many starts as leave the wheel enough teeth; the count that comes nearest where that is more than one.
  forRatio: (ratio: number): Values => {
    const usual = ratio >= 28 ? 1 : ratio >= 14 ? 2 : 4;
    const with_ = (starts: number) => ({ starts, z2: Math.min(400, Math.max(20, Math.round(ratio * starts))) });
    const off = (x: { starts: number; z2: number }): number => Math.abs(x.z2 / x.starts / ratio - 1);
    return [usual, 1, 2, 3, 4, 5, 6].map(with_).reduce((best, x) => (off(x) < off(best) - 1e-3 ? x : best));
  },
  gives: quotient('starts', 'z2'),
  bounds: 'a worm has one to six starts here, its wheel 20 to 400 teeth',
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const m = b.n('module'),
      d1 = Number((m * b.n('quotient')).toPrecision(12));
    const length = b.neat(m * (12 + 0.1 * b.n('z2')));
    const z = b.next(b.from, length);
    const [d, side] = perpendicular(f, b);
    const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, (d1 + m * b.n('z2')) / 2));
    const out = b.shaft('Wheel shaft', o, side, f.z);
    const lead = (Math.atan((m * b.n('starts')) / d1) * 180) / Math.PI;
    const g1 = b.element('worm', b.from, 'Worm', { starts: b.n('starts'), module: b.exact('module'), diameter: d1, length, at: [0, 0, z] });
    const g2 = b.element('worm-wheel', out, 'Worm wheel', {
      teeth: b.n('z2'),
      module: b.exact('module'),
      width: b.neat(0.7 * d1),
      twist: Number(lead.toFixed(6)),
    });
    b.couple('worm-drive', 'Worm drive', { a: g1, b: g2 });
    b.output = out;
  },
  problem(values: Values): StageProblem | undefined {
    const steepest = Math.tan((STEEPEST * Math.PI) / 180) * size(values, 'quotient');
    if (size(values, 'starts') <= steepest) return undefined;
    const most = Math.floor(steepest);
    return {
      field: 'starts',
      message: `so many starts on so thin a worm are steeper than ${STEEPEST}°: at most ${most}, or a larger quotient`,
      choices: [{ starts: most }],
    };
  },
};

import { vadd, vscale } from '../../math/index';
import { StageBuilder } from './builder';
import type { StageKind, StageProblem } from './protocol';
import type { Values } from './values';
import { ANGLE, MODULE, WIDTH, teeth, countsFor, quotient, RING_FILLET, ringTipCut, size } from './sizes';

export const internal: StageKind = {
  kind: 'internal',
  label: 'Internal pair',
  does: 'turn to turn, same sense',
  ratio: 'turns',
  usual: 10,
  fields: [teeth('z1', 'Teeth of the pinion', 24), teeth('z2', 'Teeth of the ring', 84, 20), MODULE, WIDTH, ANGLE],
  // The ring keeps ten teeth more than its pinion.
  forRatio: (ratio: number): Values => {
    const [a, c] = countsFor(Math.max(1.42, ratio), 24, 60);
    return { z1: a, z2: Math.max(a + 10, c) };
  },
  gives: quotient('z1', 'z2'),
  bounds: 'the pinion has 24 teeth or more, the ring at least ten more than it and at most 400',
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from),
      m = b.n('module'),
      w = b.n('width');
    const z = b.next(b.from, w);
    const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(b.direction(f), (m * (b.n('z2') - b.n('z1'))) / 2));
    const out = b.shaft('Ring shaft', o, f.z, f.x);
    const g1 = b.element('gear', b.from, 'Pinion', { teeth: b.n('z1'), module: b.exact('module'), width: w + 2, at: [0, 0, z] });
    const g2 = b.element('gear', out, 'Ring', {
      teeth: b.n('z2'),
      module: b.exact('module'),
      width: w,
      internal: true,
      rim: b.neat(m * (b.n('z2') + 8)),
      fillet: RING_FILLET,
      ...ringTipCut(b.n('z1'), b.n('z2'), m),
    });
    b.couple('gear-pair', 'Internal pair', { a: g1, b: g2 });
    b.output = out;
  },
  problem(values: Values): StageProblem | undefined {
    if (size(values, 'z2') - size(values, 'z1') < 10) {
      return { field: 'z2', message: 'a ring needs at least ten teeth more than its pinion' };
    }
    return undefined;
  },
};

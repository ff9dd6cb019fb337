import { choiceField, exactField, flagField } from '../../fields/fields';
import { FRAME, type Id } from '../../fields/types';
import { vadd, vscale } from '../../math/index';
import { tidy } from '../../edits/frames';
import { StageBuilder, perpendicular } from './builder';
import type { StageKind } from './protocol';
import { ANGLE } from './sizes';

export const proportional: StageKind = {
  begins: 'at any that moves',
  kind: 'proportional',
  label: 'Proportional motion',
  does: 'any motion to any motion, by a typed pair',
  fields: [
    exactField('amountA', 'This much of the driver', { initial: 1, above: 0, max: 1e6, help: 'Turns, or mm of a slide.' }),
    exactField('amountB', 'moves it by', { initial: 1, above: 0, max: 1e6, help: 'Turns, or mm of a slide.' }),
    choiceField('moves', 'What is moved', ['dial', 'slide'], { initial: 'dial' }),
    flagField('reversed', 'In the opposite sense', { initial: false }),
    ANGLE,
  ],
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const j = b.design.joints.find((x) => x.child === b.from)!;
    const [d, side] = perpendicular(f, b);
    const z = b.next(b.from, 4);
    const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, 140));
    let out: Id;
    if (b.text('moves') === 'slide') {
      out = b.slide('Indicator slide', o, side, d, FRAME);
      b.element('block', out, 'Indicator', { length: 30, depth: 12, height: 40 });
    } else {
      out = b.shaft('Pointer shaft', o, f.z, f.x, FRAME);
      b.element('pointer', out, 'Pointer', { length: 45 });
      b.element('dial', FRAME, 'Dial', { diameter: 110, divisions: 12, at: tidy(o), axis: tidy(f.z), up: tidy(f.x) });
    }
    const own = b.design.joints.find((x) => x.child === out)!;
    b.couple('proportional', 'Proportional motion', {
      a: j.id,
      amountA: b.exact('amountA'),
      b: own.id,
      amountB: b.exact('amountB'),
      ...(b.values['reversed'] === true ? { reversed: true } : {}),
    });
    b.output = out;
  },
};

import { choiceField, numberField } from '../../fields/fields';
import { vadd, vscale } from '../../math/index';
import { GAP, StageBuilder } from './builder';
import type { StageKind } from './protocol';

export const oneWay: StageKind = {
  kind: 'one-way',
  label: 'One-way clutch',
  does: 'turn to turn, in one sense only',
  fields: [
    choiceField('grips', 'Takes along', ['forward', 'back'], { initial: 'forward' }),
    numberField('diameter', 'Diameter', { unit: 'mm', initial: 40, above: 0, max: 1e4 }),
  ],
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const d = b.n('diameter');
    const z = b.next(b.from, 20);
    const out = b.shaft('Overrunning shaft', vadd(f.o, vscale(f.z, z + 10 + GAP)), f.z, f.x);
    b.element('rod', b.from, 'Clutch hub', { diameter: d, length: 20, at: [0, 0, z] });
    b.element('rod', out, 'Clutch ring', { diameter: d, length: 20, at: [0, 0, 10] });
    const a = b.design.joints.find((x) => x.child === b.from)!,
      c = b.design.joints.find((x) => x.child === out)!;
    b.couple('one-way-clutch', 'One-way clutch', { a: a.id, b: c.id, grips: b.text('grips') });
    b.output = out;
  },
};

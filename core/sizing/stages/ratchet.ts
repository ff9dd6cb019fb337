import { pawlSwing } from '../../elements/index';
import { choiceField, numberField, wholeField } from '../../fields/fields';
import { type Vec3, dot, toLocalPoint, unit, vadd, vscale } from '../../math/index';
import { tidy } from '../../edits/frames';
import { StageBuilder } from './builder';
import type { StageKind } from './protocol';
import { WIDTH, teeth } from './sizes';

export const ratchet: StageKind = {
  kind: 'ratchet',
  label: 'Ratchet and pawl',
  does: 'holds against turning back',
  fields: [
    teeth('z', 'Teeth', 24, 6),
    numberField('diameter', 'Outside diameter', { unit: 'mm', initial: 90, above: 0, max: 1e4 }),
    { ...WIDTH, label: 'Width', initial: 10 },
    wholeField('pawls', 'Pawls, evenly staggered', { initial: 1, min: 1, max: 6 }),
    choiceField('free', 'Lets it turn', ['forward', 'back'], { initial: 'forward' }),
    numberField('press', 'Moment of the pawl’s spring', {
      unit: 'N·m',
      initial: 0,
      min: 0,
      max: 1e9,
      help: 'Presses the pawl in; turning under it takes some torque.',
    }),
    numberField('angle', 'Direction of the pawl', { unit: 'deg', initial: 0, min: -360, max: 360, help: 'About the axis of the wheel; 0 above it.' }),
  ],
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const w = b.n('width'),
      R = b.n('diameter') / 2;
    const z = b.next(b.from, w);
    const sense = b.text('free') === 'back' ? -1 : 1;
    const turn = (b.n('angle') * Math.PI) / 180;
    const [ex, ey] = [
      vadd(vscale(f.x, Math.cos(turn)), vscale(f.y, Math.sin(turn))),
      vadd(vscale(f.x, -Math.sin(turn)), vscale(f.y, Math.cos(turn))),
    ];
    const stated = { teeth: b.n('z'), diameter: 2 * R, width: w, free: b.text('free') === 'back' ? ('back' as const) : ('forward' as const) };
    const length = b.neat(0.85 * R);
    // The wheel is turned so that a face stands at the nose.
    const item = { id: '', name: '', member: '' };
    const place = { pivot: [sense * 0.7 * R, 1.25 * R] as const, towards: Math.atan2(-0.25, -0.75 * sense) };
    // The wheel goes with the direction; `place` is seen from it.
    const off = turn + (pawlSwing({ ...item, ...stated, type: 'ratchet-wheel' }, { ...item, type: 'pawl', length, width: w }, place)?.off ?? 0);
    const wheel = b.element('ratchet-wheel', b.from, 'Ratchet wheel', {
      ...stated,
      at: [0, 0, z],
      ...(off ? { axis: [0, 0, 1], up: [Math.cos(off), Math.sin(off), 0] } : {}),
    });
    const o = vadd(vadd(f.o, vscale(f.z, z)), vadd(vscale(ey, 1.25 * R), vscale(ex, sense * 0.7 * R)));
    const nose = vadd(vscale(ex, -sense * 0.75), vscale(ey, -0.25));
    const carrier = b.carrier;
    const own = b.frameOf(carrier);
    const local = (v: Vec3): Vec3 => tidy([dot(own.x, v), dot(own.y, v), dot(own.z, v)]);
    const p = b.element('pawl', carrier, 'Pawl', {
      length,
      width: w,
      ...(b.n('press') ? { press: b.n('press') } : {}),
      at: tidy(toLocalPoint(own, o)),
      axis: local(f.z),
      up: local(unit(nose)),
    });
    b.couple('ratchet', 'Ratchet and pawl', { a: wheel, b: p, ...(b.n('pawls') > 1 ? { pawls: b.n('pawls') } : {}) });
  },
};

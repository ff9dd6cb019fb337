import { touch } from '../../cams/index';
import { camOf, num } from '../../elements/index';
import { choiceField, numberField } from '../../fields/fields';
import { type Vec3, cross, dot, vadd, vscale } from '../../math/index';
import { tidy } from '../../edits/frames';
import { StageBuilder, perpendicular } from './builder';
import type { StageKind, StageProblem } from './protocol';
import type { Values } from './values';
import { ANGLE, WIDTH } from './sizes';

export const cam: StageKind = {
  kind: 'cam',
  label: 'Cam and follower',
  does: 'turn to a stated motion',
  fields: [
    numberField('base', 'Base circle diameter', { unit: 'mm', initial: 80, above: 0, max: 1e4 }),
    numberField('lift', 'Lift', { unit: 'mm', initial: 15, above: 0, max: 1e3 }),
    numberField('rise', 'Angle of the rise', { unit: 'deg', initial: 120, min: 20, max: 170 }),
    choiceField('law', 'Law', ['cycloidal', 'harmonic', 'modified sine', 'modified trapezoid', '3-4-5', '4-5-6-7'], { initial: 'modified sine' }),
    numberField('roller', 'Roller diameter', { unit: 'mm', initial: 20, above: 0, max: 500 }),
    { ...WIDTH, label: 'Width', initial: 14 },
    ANGLE,
  ],
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const w = b.n('width');
    const z = b.next(b.from, w);
    const [d] = perpendicular(f, b);
    const law = b.text('law'),
      rise = b.n('rise'),
      rest = (360 - 2 * rise) / 2;
    const segments = [
      { angle: rise, rise: b.n('lift'), law },
      { angle: rest, rise: 0, law: 'dwell' },
      { angle: rise, rise: -b.n('lift'), law },
      { angle: rest, rise: 0, law: 'dwell' },
    ];
    // Turned so that the rise begins under the follower.
    const cam = b.element('cam', b.from, 'Cam', {
      base: b.n('base'),
      roller: b.n('roller'),
      segments,
      phase: b.n('angle'),
      width: w,
      at: [0, 0, z],
    });
    const data = camOf(b.design.elements[b.design.elements.length - 1]);
    if (typeof data === 'string') return;
    const t = touch(data.shape, 0, 0).trace;
    const out = b.slide('Follower slide', vadd(vadd(f.o, vscale(f.z, z)), vscale(d, t[0])), d, f.z);
    const own = b.frameOf(out);
    const local = (v: Vec3): Vec3 => tidy([dot(own.x, v), dot(own.y, v), dot(own.z, v)]);
    const fo = b.element('follower', out, 'Follower', {
      form: 'roller',
      size: b.n('roller'),
      width: w,
      stem: b.neat(b.n('base')),
      axis: local(f.z),
      up: local(cross(d, f.z)),
    });
    b.couple('cam-contact', 'Cam contact', { a: cam, b: fo });
    // Something has to press it on the cam, whichever way the stage lies.
    b.load('joint-spring', 'Follower spring', { joint: b.jointOf(out), rate: 1, preload: -50 });
    b.output = out;
  },
  problem(values: Values): StageProblem | undefined {
    if (num(values['base'] as number) < num(values['lift'] as number)) {
      return { field: 'base', message: 'the base circle should be larger than the lift' };
    }
    return undefined;
  },
};

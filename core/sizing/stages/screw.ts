import { choiceField, exactField, numberField, wholeField } from '../../fields/fields';
import { vadd, vscale } from '../../math/index';
import { StageBuilder } from './builder';
import type { StageKind } from './protocol';
import { size } from './sizes';
import type { Values } from './values';

export const screw: StageKind = {
  kind: 'screw',
  label: 'Screw and nut',
  does: 'turn to travel along the axis',
  ratio: 'travel',
  fields: [
    exactField('diameter', 'Nominal diameter', { unit: 'mm', symbol: 'd', initial: 24, above: 0, max: 1e4 }),
    exactField('pitch', 'Pitch', { unit: 'mm', symbol: 'P', initial: 5, above: 0, max: 1e3 }),
    wholeField('starts', 'Starts', { initial: 1, min: 1, max: 12 }),
    choiceField('hand', 'Hand', ['right', 'left'], { initial: 'right' }),
    numberField('length', 'Threaded length', { unit: 'mm', initial: 300, above: 0, max: 1e5 }),
  ],
  // More starts where one thread would be too steep for its diameter.
  forRatio: (travel: number, v: Values): Values => {
    const starts = Math.min(12, Math.max(1, Math.ceil(travel / (0.35 * size(v, 'diameter', 24)))));
    return { starts, pitch: Number(Math.min(1e3, travel / starts).toPrecision(10)) };
  },
  gives: (v) => size(v, 'pitch') * size(v, 'starts', 1),
  bounds: 'a screw has at most 12 starts of a pitch of at most 1000 mm',
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const L = b.n('length');
    const z = b.next(b.from, L);
    const d = b.n('diameter');
    const o = vadd(f.o, vscale(f.z, z));
    const out = b.slide('Nut slide', o, f.z, f.x);
    const s = b.element('screw', b.from, 'Screw', {
      diameter: b.exact('diameter'),
      pitch: b.exact('pitch'),
      starts: b.n('starts'),
      hand: b.text('hand'),
      length: L,
      at: [0, 0, z],
    });
    const n = b.element('nut', out, 'Nut', { outside: b.neat(2.2 * d), bore: d, length: b.neat(1.8 * d) });
    b.couple('screw-drive', 'Screw drive', { a: s, b: n });
    b.output = out;
  },
};

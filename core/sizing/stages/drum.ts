import { exactField, numberField, wholeField } from '../../fields/fields';
import { vadd, vscale } from '../../math/index';
import { type StageBuilder, perpendicular } from './builder';
import type { StageKind } from './protocol';
import { ANGLE, size } from './sizes';
import type { Values } from './values';

/** Turns of rope that a new drum has room for, and how many are wound up to begin with. */
const ROOM = 20;
const WOUND = 5;

export const drum: StageKind = {
  kind: 'drum',
  label: 'Drum and rope',
  does: 'turn to travel of a hanging load',
  ratio: 'travel',
  fields: [
    exactField('diameter', 'Barrel diameter', { unit: 'mm', symbol: 'D', initial: 200, above: 0, max: 1e5 }),
    exactField('rope', 'Rope diameter', { unit: 'mm', symbol: 'dr', initial: 10, above: 0, max: 1e3 }),
    wholeField('falls', 'Falls', { symbol: 'n', initial: 2, min: 1, max: 40 }),
    numberField('drop', 'Load below the drum', { unit: 'mm', initial: 1500, above: 0, max: 1e6 }),
    { ...ANGLE, initial: -90, help: 'Direction in which it hoists, about the shaft.' },
  ],
  forRatio: (travel: number, v: Values): Values => ({
    diameter: Number(Math.max(1, (travel * size(v, 'falls', 2)) / Math.PI - size(v, 'rope', 10)).toPrecision(10)),
  }),
  gives: (v) => (Math.PI * (size(v, 'diameter', 200) + size(v, 'rope', 10))) / size(v, 'falls', 2),
  bounds: 'a barrel has a diameter of 1 mm or more',
  build(b: StageBuilder): void {
    const f = b.frameOf(b.from);
    const rope = b.n('rope');
    const width = b.neat(ROOM * rope);
    const z = b.next(b.from, width + 2 * rope);
    const [up, across] = perpendicular(f, b);
    const o = vadd(f.o, vscale(f.z, z));
    const out = b.slide('Hook block', vadd(o, vscale(up, -b.n('drop'))), up, across);
    const d = b.element('drum', b.from, 'Drum', { diameter: b.exact('diameter'), rope: b.exact('rope'), width, at: [0, 0, z] });
    const block = 6 * rope;
    b.element('block', out, 'Block', { length: block, depth: block / 2, height: block });
    b.couple('rope', 'Rope', { a: d, b: b.jointOf(out), falls: b.n('falls'), wound: WOUND });
    b.output = out;
  },
};

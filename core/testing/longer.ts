import { MECHANICS_LISTS, fieldsOfItem } from '../document/index';
import { type Field, statedBy } from '../fields/fields';
import type { Design } from '../fields/types';
import { STANDARD_GRAVITY } from '../forces/forces';
import { structureOf } from '../kinematics/index';

/** Powers of length in the units of fields, where forces and times are the base besides it. */
const LENGTHS: Readonly<Record<string, number>> = {
  mm: 1,
  'N/mm': -1,
  'N*s/mm': -1,
  'N·m': 1,
  W: 1,
  'kg/m3': -4,
  kg: -1,
  'kg·m²': 1,
  '1/in': -1,
};

/**
 * The same design with all lengths k times as large (k whole), under forces of the same size and with the same turning: by the
 * dimensions of every field. What is stated of a joint without a unit, or in that of a turning one, goes by how the joint moves.
 */
export function longer(d: Design, k: number): Design {
  const { coordinates } = structureOf(d);
  const slides = (joint: unknown, which = 0): boolean => {
    const [id, at] = String(joint).split(':');
    const of = coordinates.filter((c) => c.joint.id === id);
    return (of[at ? Number(at) : which] ?? of[0])?.motion === 'slide';
  };
  const times = (v: unknown, power: number): unknown => {
    if (Array.isArray(v)) return v.map((x) => times(x, power));
    if (typeof v === 'number') return v * k ** power;
    if (typeof v !== 'string' || power === 0) return v;
    const [over, under = '1'] = v.split('/');
    return power > 0 ? `${Number(over) * k ** power}/${under}` : `${over}/${Number(under) * k ** -power}`;
  };
  /** Power of length in a field that has no unit of its own. */
  const powerOf = (list: string, item: Readonly<Record<string, unknown>>, f: { key: string; unit?: string }): number => {
    const { key } = f;
    if (list === 'joints') {
      const which = /^(lower|upper|home)([23]?)$/.exec(key);
      return which ? Number(slides(item['id'], which[2] ? Number(which[2]) - 1 : 0)) : (LENGTHS[f.unit ?? ''] ?? 0);
    }
    const joint = item['joint'];
    if (joint !== undefined) {
      const straight = slides(joint);
      if (['amount', 'topSpeed', 'topAcceleration', 'jerk'].includes(key)) return Number(slides(item['motionOf'] ?? joint));
      if (key === 'mostSpeed') return Number(straight);
      if (key === 'mostTorque') return Number(!straight);
      if (['speed', 'noLoad', 'amount', 'free', 'time:value'].includes(key)) return Number(straight);
      if (['value', 'torque', 'stall', 'brake', 'preload'].includes(key)) return Number(!straight);
      if (key === 'rate' || key === 'damping') return straight ? -1 : 1;
      if (key === 'rotor') return straight ? -1 : 1;
    }
    if (key === 'amountA' || key === 'amountB' || key === 'offset') return Number(slides(item[key === 'amountA' ? 'a' : 'b']));
    return LENGTHS[f.unit ?? ''] ?? 0;
  };
  const itemOf = (list: string, item: object, fields: readonly Field[]): object => {
    const stated = statedBy(item);
    const out: Record<string, unknown> = { ...stated };
    for (const f of fields) {
      const now = stated[f.key] ?? f.initial;
      if (now === undefined) continue;
      if (f.kind === 'table') {
        out[f.key] = (now as readonly object[]).map((row) => ({
          ...row,
          ...Object.fromEntries((f.columns ?? []).map((c) => [c.key, times(statedBy(row)[c.key], columnPower(list, stated, f, c))])),
        }));
      } else if (['number', 'exact', 'vector'].includes(f.kind)) out[f.key] = times(now, powerOf(list, stated, f));
    }
    return out;
  };
  const columnPower = (list: string, item: Readonly<Record<string, unknown>>, f: Field, c: Field): number => {
    if (c.unit && c.unit in LENGTHS && list !== 'sources') return LENGTHS[c.unit];
    if (list === 'sources') {
      const straight = slides((f.key === 'ramps' || f.key === 'table' ? item['motionOf'] : undefined) ?? item['joint']);
      if (c.key === 'speed' || c.key === 'value') return Number(straight);
      return c.key === 'torque' ? Number(!straight) : 0;
    }
    const swings = item['carries'] === 'swinging';
    return (c.key === 'rise' || (c.key === 'value' && f.key === 'points')) && !swings ? 1 : 0;
  };
  const gravity = d.settings?.gravity ?? STANDARD_GRAVITY;
  return {
    ...d,
    ...Object.fromEntries(MECHANICS_LISTS.map((list) => [list, d[list].map((x) => itemOf(list, x, fieldsOfItem(list, x)))])),
    settings: { ...d.settings, gravity: [gravity[0] * k, gravity[1] * k, gravity[2] * k] },
  };
}

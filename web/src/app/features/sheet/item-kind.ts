import { jointKind } from '@unirota/core';
import {
  type Design,
  ELEMENT_FIELDS,
  FRAME,
  type Field,
  type Id,
  ITEM_FORMS,
  JOINT_STOPS,
  freedomOf,
  JOINT_OWN,
  MEMBER_FIELDS,
  PLACE_FIELDS,
} from '@unirota/core/document';
import { motionUnit } from '@unirota/core/units';
import { type Kind, LISTS } from '../../state/items';
import { inItsUnits } from './source-units';

/** The kind of an item of a list, with its own fields; undefined for a member. */
export const itemKind = (kind: Kind, type: string): { label: string; fields?: readonly Field[] } | undefined =>
  ITEM_FORMS[LISTS[kind]].kinds?.find((k) => k.type === type);

/** What an item's fields depend on beside itself. */
export interface FieldsOf {
  /** Whether what it drives, and whether the motion that it states, is that of a slide. */
  readonly slides: boolean;
  readonly movesSlide: boolean;
  /** How a stop is called as it is seen. */
  readonly asSeen: (f: Field) => string;
}

/** Fields of an item, with units as they are for it (a joint that slides is in mm). */
export function shownFields(kind: Kind, i: Readonly<Record<string, unknown>>, of: FieldsOf): Field[] {
  // What came with a file is shown, not edited.
  const own = (itemKind(kind, String(i['type'] ?? ''))?.fields ?? []).filter((f) => !f.fromFile);
  const [at, axis, up] = PLACE_FIELDS;
  const place: Field[] = [{ ...at, help: undefined, label: kind === 'member' ? $localize`Place in the world` : $localize`Place on the member` }];
  const directions: Field[] = [
    { ...axis, label: $localize`Direction of its axis`, help: undefined, rare: true },
    { ...up, label: $localize`Direction near its x`, help: undefined, rare: true },
  ];
  if (kind === 'member') return [...MEMBER_FIELDS, ...place, ...directions];
  if (kind === 'coupling' || kind === 'source' || kind === 'load' || kind === 'wanted') {
    const shown = own.filter((f) => !f.when || f.when(i));
    return kind === 'source' ? shown.map((f) => inItsUnits(f, of.slides, of.movesSlide)) : shown;
  }
  if (kind === 'joint') {
    const freedoms = jointKind(String(i['type']))?.freedoms ?? [];
    const [parent, child] = JOINT_OWN;
    const members: Field[] = [
      { ...parent, label: $localize`Carried by` },
      { ...child, label: $localize`Carries` },
    ];
    return [
      ...own.filter((f) => !f.when || f.when(i)),
      ...JOINT_STOPS.filter((f) => f.when?.(i)).map((f): Field => {
        if (f.kind === 'refs') return { ...f, rare: true };
        return f.kind === 'exact' ? { ...f, unit: motionUnit(freedoms[freedomOf(f) - 1].motion).place, label: of.asSeen(f) } : f;
      }),
      { ...place[0], label: $localize`Place on the carried member` },
      ...members.map((f) => ({ ...f, rare: true })),
      ...directions,
    ];
  }
  const all = kind === 'element' ? [...own, ...ELEMENT_FIELDS, ...place, ...directions] : own;
  return all.filter((f) => !f.when || f.when(i)).map((f) => (f.key === 'speed' && of.slides ? { ...f, unit: 'mm/s' } : f));
}

/** What can be chosen for a field: its words, or the items that it may name. */
export function choicesOf(f: Field, d: Design): { value: string; label: string }[] {
  if (f.kind === 'choice') {
    const all = f.choices!.map((c) => ({ value: c, label: c }));
    // What need not be stated can be left open again.
    return f.required || f.initial !== undefined ? all : [{ value: '', label: $localize`as it comes` }, ...all];
  }
  const from = f.to === 'coordinate' || f.to === 'face' ? 'joint' : (f.to as Kind);
  const list = (d[LISTS[from]] as { id: Id; name?: string }[]).map((x) => ({ value: x.id, label: x.name ?? x.id }));
  const all = from === 'member' ? [{ value: FRAME, label: $localize`the frame` }, ...list] : list;
  return f.kind === 'ref' && !f.required ? [{ value: '', label: $localize`none` }, ...all] : all;
}

/** Whether the joint that an item names slides. */
export function drivesSlide(d: Design, i: Readonly<Record<string, unknown>>): boolean {
  const j = d.joints.find((x) => x.id === String(i['joint'] ?? '').split(':')[0]);
  return j !== undefined && jointKind(j.type)?.freedoms[0]?.motion === 'slide';
}

/** Which way a part of a place goes, as people see it: in the world, or on the member that an element is fast on. */
export function partSense(kind: Kind | undefined, onFrame: boolean, k: number): string {
  if (kind === 'member' || (kind === 'element' && onFrame)) return ['right', 'back', 'up'][k];
  return kind === 'element' || kind === 'joint' ? ['across', 'across', 'along'][k] : '';
}

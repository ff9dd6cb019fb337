import { problem } from '../findings/index';
import type { Element } from '../fields/types';
import { type Stated, choiceField, exactField, numberField, wholeField } from '../fields/fields';
import { type Ratio, mul } from '../math/index';
import { DENSITY_FIELD, exactOf, num } from './gear';
import { ElementKind, otherHand } from './protocol';
import { type Solid, type ThreadProfile, bar, threaded } from '../solids/index';

/** Flank half-angle of a thread form, rad: trapezoidal 15° (ISO 2901), square 0°, metric 30°, ball screw 0°. */
export const FLANK: Record<string, number> = { trapezoidal: Math.PI / 12, square: 0, metric: Math.PI / 6, ball: 0 };

/** Pitch diameter of a screw, mm: d − p/2 (ISO 2904 for trapezoidal threads; metric 0.6495 p). */
export const screwPitchDiameter = (e: Screw): number => num(e.diameter) - (e.form === 'metric' ? 0.6495 : e.form === 'ball' ? 0 : 0.5) * num(e.pitch);

/** Lead, mm: pitch times starts, exact. */
export const screwLead = (e: Screw): Ratio => mul(exactOf(e.pitch), exactOf(e.starts, 1));

/** How the ends of a screw's free length are held. Guided: in one bearing, so that it may tilt; clamped: in two. */
export const SCREW_ENDS = ['guided and guided', 'clamped and guided', 'clamped and clamped', 'clamped and free'] as const;
export type ScrewEnds = (typeof SCREW_ENDS)[number];

const SCREW_FIELDS = [
  exactField('diameter', 'Nominal diameter', { unit: 'mm', symbol: 'd', required: true, above: 0, max: 1e4 }),
  exactField('pitch', 'Pitch', { unit: 'mm', symbol: 'P', required: true, above: 0, max: 1e3 }),
  wholeField('starts', 'Starts', { symbol: 'n', initial: 1, min: 1, max: 20 }),
  choiceField('hand', 'Hand', ['right', 'left'], { initial: 'right' }),
  choiceField('form', 'Thread form', ['trapezoidal', 'square', 'metric', 'ball'], { initial: 'trapezoidal' }),
  numberField('length', 'Threaded length', { unit: 'mm', symbol: 'L', required: true, above: 0, max: 1e5 }),
  DENSITY_FIELD,
  numberField('freeLength', 'Greatest free length', {
    rare: true,
    unit: 'mm',
    above: 0,
    max: 1e5,
    help: 'For the rating: between what carries the screw and the nut, for buckling and whirling.',
  }),
  choiceField('ends', 'Ends of the free length', SCREW_ENDS, { rare: true, initial: 'guided and guided', help: 'For the rating.' }),
];
/** What is stated of one, from its fields. */
export type Screw = Element & Stated<typeof SCREW_FIELDS>;

/**
 * Core diameter that bears, mm: trapezoidal d − P − 2·ac (ISO 2901), metric d − 1.2269·P (ISO 68-1), square d − P; of a
 * ball screw it is not known.
 */
export function screwCoreDiameter(e: Screw): number | undefined {
  const profile = profileOf(e);
  if (!profile) return undefined;
  return e.form === 'metric' ? num(e.diameter) - 1.22687 * num(e.pitch) : 2 * profile.root;
}

/** Radius of a screw's core, mm, as it is drawn: half a pitch under the outside, as trapezoidal threads are. */
const screwCore = (e: Screw): number => Math.max(num(e.diameter) / 2 - 0.5 * num(e.pitch), 0.3 * num(e.diameter));

/** Crest clearance of trapezoidal threads by pitch, mm (ISO 2901, table 1; from memory). */
const clearance = (pitch: number): number => (pitch < 2 ? 0.15 : pitch <= 5 ? 0.25 : pitch <= 12 ? 0.5 : 1);

/**
 * The profile of a screw's thread: trapezoidal (ISO 2901, 2904), metric (ISO 68-1, its root flat), square (half a pitch deep).
 * Undefined of a ball screw.
 */
function profileOf(e: Screw): ThreadProfile | undefined {
  const [d, pitch, starts] = [num(e.diameter), num(e.pitch), num(e.starts, 1)];
  const form = e.form ?? 'trapezoidal';
  if (form === 'ball') return undefined;
  const depth = form === 'trapezoidal' ? 0.5 * pitch + clearance(pitch) : form === 'metric' ? 0.61343 * pitch : 0.5 * pitch;
  const crestFlat = form === 'trapezoidal' ? 0.36603 * pitch : form === 'metric' ? pitch / 8 : pitch / 2;
  const rootFlat = pitch - crestFlat - 2 * depth * Math.tan(FLANK[form]);
  return { crest: d / 2, root: d / 2 - depth, pitch, crestFlat, rootFlat, starts };
}
function modelled(e: Screw): Solid[] | undefined {
  const profile = profileOf(e);
  const made = profile && threaded(profile, -num(e.length) / 2, num(e.length) / 2, e.hand === 'left' ? -1 : 1);
  return made && [made];
}

/** A screw spindle along z. It is weighed by its pitch cylinder, and drawn with its helix. */
export const screwElement: ElementKind<Screw> = {
  type: 'screw',
  label: 'Screw',
  mirrored: (e) => ({ hand: otherHand(e.hand) }),
  fields: SCREW_FIELDS,
  // As much stands out of the pitch cylinder as is cut into it.
  shape: (e) => [bar(screwPitchDiameter(e) / 2, -num(e.length) / 2, num(e.length) / 2)],
  thread: (e) => ({
    outside: num(e.diameter) / 2,
    pitch: screwPitchDiameter(e) / 2,
    from: -num(e.length) / 2,
    to: num(e.length) / 2,
    lead: num(e.pitch) * num(e.starts, 1) * (e.hand === 'left' ? -1 : 1),
    starts: num(e.starts, 1),
  }),
  simplified(e) {
    const b = num(e.length) / 2;
    return { whole: [bar(num(e.diameter) / 2, -b, b)], ring: [], lines: [{ kind: 'core', from: [screwCore(e), -b], to: [screwCore(e), b] }] };
  },
  plain: (e) => [bar(screwCore(e), -num(e.length) / 2, num(e.length) / 2)],
  threaded: modelled,
  derived(e) {
    const lead = num(e.pitch) * num(e.starts, 1),
      d2 = screwPitchDiameter(e);
    return [
      { key: 'lead', label: 'Lead', symbol: 'Ph', value: lead, unit: 'mm', formula: 'Ph = n·P' },
      {
        key: 'pitchDiameter',
        label: 'Pitch diameter',
        symbol: 'd2',
        value: d2,
        unit: 'mm',
        formula: e.form === 'metric' ? 'd2 = d − 0.6495·P' : e.form === 'ball' ? 'd2 = d' : 'd2 = d − 0.5·P',
      },
      {
        key: 'leadAngle',
        label: 'Lead angle',
        symbol: 'λ',
        value: (Math.atan(lead / (Math.PI * d2)) * 180) / Math.PI,
        unit: 'deg',
        formula: 'tan λ = Ph / (π·d2)',
      },
    ];
  },
  problems: (e) => (screwPitchDiameter(e) <= 0 ? [problem('pitch-too-large', {})] : []),
};

/** Materials of nuts, for their rating on a steel screw. */
export const NUT_MATERIALS = ['bronze', 'cast iron'] as const;
export type NutMaterial = (typeof NUT_MATERIALS)[number];

const NUT_FIELDS = [
  numberField('outside', 'Outside diameter', { unit: 'mm', symbol: 'D', required: true, above: 0, max: 1e5 }),
  numberField('bore', 'Thread diameter', { unit: 'mm', symbol: 'd', required: true, above: 0, max: 1e4 }),
  numberField('length', 'Length', { unit: 'mm', symbol: 'L', required: true, above: 0, max: 1e5 }),
  DENSITY_FIELD,
  choiceField('nutMaterial', 'Material of the thread', NUT_MATERIALS, { rare: true, help: 'For the rating, on a screw of steel.' }),
  numberField('pressureLimit', 'Permissible pressure', {
    rare: true,
    unit: 'MPa',
    above: 0,
    max: 1000,
    help: 'Of its thread, stated in place of that of its material.',
  }),
  numberField('dynamicRating', 'Dynamic rating Ca', { rare: true, unit: 'N', above: 0, max: 1e9, help: 'Of a ball screw, ISO 3408-5.' }),
];
/** What is stated of one, from its fields. */
export type Nut = Element & Stated<typeof NUT_FIELDS>;

/** A nut about z. It takes its thread from the screw that it runs on. */
export const nut: ElementKind<Nut> = {
  type: 'nut',
  label: 'Nut',
  fields: NUT_FIELDS,
  shape: (e) => [bar(num(e.outside) / 2, -num(e.length) / 2, num(e.length) / 2, num(e.bore) / 2)],
  problems: (e) => (num(e.bore) >= num(e.outside) ? [problem('bore-too-large/screw', {})] : []),
};

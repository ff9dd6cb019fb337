import { problem } from '../findings/index';
import type { Element, Exact } from '../fields/types';
import { type Stated, choiceField, exactField, numberField, wholeField } from '../fields/fields';
import { DENSITY_FIELD, num } from './gear';
import { KEYWAY_FIELD, boreOutline, keywayProblems } from './keyway';
import { roundTeeth } from './simplified';
import { ElementKind, type ElementProblem, holeProblem } from './protocol';
import { V_SECTIONS, type VSection, grooveAngle, groovedPulley, groovesIn, halfFloor, rollerOf, sprocketOutline } from './pulley-form';
import { timingGapOf, timingOutline, timingTip } from './timing-form';
import { type Outline, type Solid, bar, flattened, polygon } from '../solids/index';

/**
 * Effective radius of a pulley or sprocket, mm, by which motion and torque count:
 * half its pitch diameter; where toothed z·p/2π, the band's travel by the angle.
 */
export const pulleyRadius = (e: Pulley): number =>
  e.form === 'toothed' || e.form === 'sprocket' ? (num(e.teeth) * num(e.pitch)) / (2 * Math.PI) : num(e.diameter) / 2;

const toothed = (e: { form?: string }): boolean => e.form === 'toothed' || e.form === 'sprocket';

const FIELDS = [
  choiceField('form', 'Form', ['flat', 'v', 'toothed', 'sprocket'], { initial: 'flat' }),
  exactField('diameter', 'Pitch diameter', { unit: 'mm', symbol: 'd', above: 0, max: 1e5, when: (e: { form?: string }) => !toothed(e) }),
  exactField('pitch', 'Pitch', { unit: 'mm', symbol: 'p', above: 0, max: 1000, when: toothed }),
  wholeField('teeth', 'Teeth', { symbol: 'z', min: 4, max: 2000, when: toothed }),
  numberField('width', 'Width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e5 }),
  numberField('bore', 'Bore', { unit: 'mm', initial: 0, min: 0, max: 1e5 }),
  { ...KEYWAY_FIELD, when: (e: { form?: string; bore?: Exact }): boolean => toothed(e) && num(e.bore) > 0 },
  numberField('groove', 'Groove angle', { unit: 'deg', initial: 38, min: 20, max: 60, when: (e: { form?: string }) => e.form === 'v' }),
  choiceField('standard', 'Groove or tooth form', ['general', 'SPZ', 'SPA', 'SPB', 'SPC', 'ISO 606', 'ISO 5294'], {
    initial: 'general',
    rare: true,
    help: 'Grooves of V-belts by ISO 4183, as many as the width takes; teeth of sprockets by ISO 606, series B; of toothed pulleys by ISO 5294.',
    when: (e: { form?: string }) => e.form === 'v' || toothed(e),
  }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Pulley = Element & Stated<typeof FIELDS>;

/**
 * Pitch diameter, mm: a chain's joints lie on the corners of a polygon
 * of the sprocket's teeth, p / sin(180°/z) (ISO 606, Shigley eq. 17-29).
 */
export const pitchDiameter = (e: Pulley): number =>
  e.form === 'sprocket' ? num(e.pitch) / Math.sin(Math.PI / Math.max(2, num(e.teeth, 2))) : 2 * pulleyRadius(e);

/** The V-belt section whose grooves are stated. */
const sectionOf = (e: Pulley): VSection | undefined =>
  e.form === 'v' && e.standard !== undefined && e.standard in V_SECTIONS ? (e.standard as VSection) : undefined;

/** The angle between the flanks of a section's groove, deg: as stated, else by the standard. */
const angleOf = (e: Pulley, section: VSection): number => e.groove ?? grooveAngle(section, pitchDiameter(e));

/** The section whose grooves can be made with what is stated, and by which angle, deg. */
function groovesOf(e: Pulley): { section: VSection; angle: number } | undefined {
  const section = sectionOf(e);
  return section && !grooveProblems(e, section).length ? { section, angle: angleOf(e, section) } : undefined;
}

/** What keeps the grooves of a section from being made. */
function grooveProblems(e: Pulley, standard: VSection): ElementProblem[] {
  const { below, edge } = V_SECTIONS[standard];
  if (!(groovesIn(standard, num(e.width)) > 0)) return [problem('pulley-standard/narrow', { standard, least: 2 * edge }, 'width')];
  if (!(pitchDiameter(e) > 2 * below)) return [problem('pulley-standard/small', { standard, least: 2 * below }, 'diameter')];
  const angle = angleOf(e, standard);
  return halfFloor(standard, angle) > 0 ? [] : [problem('pulley-standard/angle', { standard, angle }, 'groove')];
}

/** The standard of a form's teeth, the size by it that the pitch has, and what then lies below the pitch circle, mm. */
const TEETH = {
  sprocket: {
    standard: 'ISO 606',
    band: 'chain',
    made(e: Pulley): { outline?: Outline; floor: number } | undefined {
      const roller = rollerOf(num(e.pitch));
      if (roller === undefined) return undefined;
      return { outline: sprocketOutline(num(e.teeth), num(e.pitch), roller), floor: pitchDiameter(e) / 2 - 0.505 * roller };
    },
  },
  toothed: {
    standard: 'ISO 5294',
    band: 'belt',
    made(e: Pulley): { outline?: Outline; floor: number } | undefined {
      const gap = timingGapOf(num(e.pitch));
      if (!gap) return undefined;
      return { outline: timingOutline(num(e.teeth), gap), floor: timingTip(num(e.teeth), gap) - gap.depth };
    },
  },
} as const;
const teethOf = (e: Pulley): (typeof TEETH)[keyof typeof TEETH] | undefined =>
  e.form === 'sprocket' || e.form === 'toothed' ? TEETH[e.form] : undefined;
/** The teeth of a stated standard, where the pitch is one of its. */
function standardTeeth(e: Pulley): { outline?: Outline; floor: number } | undefined {
  const teeth = teethOf(e);
  return teeth && e.standard === teeth.standard ? teeth.made(e) : undefined;
}

/** What keeps a stated groove or tooth form from being made. */
function formProblems(e: Pulley): ElementProblem[] {
  const { standard = 'general', form } = e;
  const teeth = teethOf(e);
  if (standard === 'general' || (form !== 'v' && !teeth)) return [];
  if (teeth ? standard !== teeth.standard : !(standard in V_SECTIONS)) {
    return [problem('pulley-standard', { standard, form: form === 'v' ? 'V-belts' : form === 'sprocket' ? 'chains' : 'toothed belts' }, 'standard')];
  }
  const section = sectionOf(e);
  if (section) return grooveProblems(e, section);
  const made = standardTeeth(e);
  if (!made) return [problem('pulley-standard/pitch', { standard, band: teeth!.band, pitch: num(e.pitch) }, 'pitch')];
  return made.outline ? [] : [problem('pulley-standard/teeth', { standard }, 'teeth')];
}

/** Radius of what is left of a pulley under its teeth or groove, mm. */
function bodyRadius(e: Pulley): number {
  const r = pitchDiameter(e) / 2,
    p = num(e.pitch);
  const grooves = groovesOf(e);
  if (grooves) return r - V_SECTIONS[grooves.section].below;
  const teeth = standardTeeth(e);
  if (teeth) return teeth.floor;
  if (e.form === 'v') return Math.max(r - 0.45 * num(e.width), 0.5 * r);
  return e.form === 'toothed' ? r - 0.3 * p : e.form === 'sprocket' ? r - 0.3 * p : r;
}

/** A wheel for a belt or a chain, about z: flat, grooved, toothed, or a chain sprocket. */
export const pulley: ElementKind<Pulley> = {
  type: 'pulley',
  label: 'Pulley or sprocket',
  fields: FIELDS,
  shape(e): Solid[] {
    const r = pitchDiameter(e) / 2,
      b = num(e.width) / 2,
      bore = Math.min(num(e.bore) / 2, r * 0.9);
    if (!(r > 0)) return [];
    const grooves = groovesOf(e);
    if (grooves) return [groovedPulley(grooves.section, 2 * r, 2 * b, bore, grooves.angle)];
    const teeth = standardTeeth(e)?.outline;
    if (teeth) return [{ kind: 'prism', outline: teeth, holes: bore > 0 ? [boreOutline(bore, e.keyway)] : [], from: -b, to: b }];
    if (e.form === 'v') {
      const rim = r + b * 0.25,
        floor = Math.max(r - b * 0.9, bore + 0.05 * r, r * 0.5);
      return [
        { kind: 'turned', section: polygon([bore, -b, rim, -b, rim, -b * 0.75, floor, -b * 0.3, floor, b * 0.3, rim, b * 0.75, rim, b, bore, b]) },
      ];
    }
    if (toothed(e)) {
      const z = num(e.teeth),
        p = num(e.pitch),
        depth = Math.min(p * (e.form === 'toothed' ? 0.25 : 0.4), r * 0.3);
      const outline: number[] = [];
      for (let k = 0; k < z; k++) {
        for (const [t, d] of [
          [-0.28, 0],
          [-0.2, depth],
          [0.2, depth],
          [0.28, 0],
        ]) {
          const a = (2 * Math.PI * (k + t)) / z,
            q = r + (e.form === 'toothed' ? -depth * 1.2 : -depth / 2) + d;
          outline.push(q * Math.cos(a), q * Math.sin(a));
        }
      }
      return [{ kind: 'prism', outline: polygon(outline), holes: bore > 0 ? [boreOutline(bore, e.keyway)] : [], from: -b, to: b }];
    }
    return [{ kind: 'turned', section: polygon([bore, -b, r, -b, r, b, bore, b]) }];
  },
  simplified(e) {
    const [made] = pulley.shape(e);
    if (!toothed(e) || made?.kind !== 'prism') return { whole: pulley.shape(e), ring: [], lines: [] };
    const places = flattened(made.outline, { turn: 0.2, tolerance: 0.01 });
    const tip = places.reduce((r, x, i) => (i % 2 ? Math.max(r, Math.hypot(places[i - 1], x)) : r), 0);
    return roundTeeth(tip, Math.min(bodyRadius(e), tip), pitchDiameter(e) / 2, num(e.width) / 2, made.holes);
  },
  plain(e) {
    const r = bodyRadius(e),
      b = num(e.width) / 2;
    return r > 0 ? [bar(r, -b, b, Math.min(num(e.bore) / 2, r * 0.9))] : [];
  },
  derived: (e) => [
    {
      key: 'pitchDiameter',
      label: 'Pitch diameter',
      symbol: 'd',
      value: pitchDiameter(e),
      unit: 'mm',
      formula: e.form === 'sprocket' ? 'd = p / sin(180°/z)' : toothed(e) ? 'd = z·p / π' : undefined,
    },
    { key: 'perTurn', label: 'Rim per turn', value: 2 * Math.PI * pulleyRadius(e), unit: 'mm', formula: toothed(e) ? 'z·p' : 'π·d' },
  ],
  problems(e) {
    if (toothed(e)) {
      if (e.teeth === undefined || e.pitch === undefined) return [problem('pulley-size', {}, e.teeth === undefined ? 'teeth' : 'pitch')];
    } else if (e.diameter === undefined) return [problem('pulley-size/diameter', {})];
    const form = formProblems(e);
    if (form.length) return form;
    const bore = holeProblem('a bore', num(e.bore), 2 * bodyRadius(e));
    return bore.length || !toothed(e) ? bore : keywayProblems(e.keyway, num(e.bore), bodyRadius(e));
  },
};

import { problem } from '../findings/index';
import {
  CamMotion,
  CamProfile,
  FollowerShape,
  LAWS,
  camProfile,
  motionOfPoints,
  motionOfSegments,
  pointsProblem,
  segmentsProblem,
  shapeProblem,
} from '../cams/index';
import type { Element } from '../fields/types';
import { type Stated, choiceField, numberField, tableField } from '../fields/fields';
import { DENSITY_FIELD, num } from './gear';
import { KEYWAY_FIELD, boreOutline, keywayProblems } from './keyway';
import { Derived, ElementKind, ElementProblem, holeProblem } from './protocol';
import { bar, circle, polygon, rectangle, turned } from '../solids/index';

const RAD = Math.PI / 180;
const swinging = (e: { carries?: string }): boolean => e.carries === 'swinging';

/** A cam as computed: how its follower stands and moves. Motion in mm, or in rad of a swinging follower. */
export interface CamData {
  shape: FollowerShape;
  motion: CamMotion;
  profile: CamProfile;
}

const known = new WeakMap<Element, CamData | string>();

/** A cam's data, or what is wrong with it in a sentence. Kept with the element, which is never changed in place. */
export function camOf(e: Cam): CamData | string {
  let c = known.get(e);
  if (c === undefined) known.set(e, (c = make(e)));
  return c;
}

function make(e: Cam): CamData | string {
  const swing = swinging(e);
  const shape: FollowerShape = {
    form: e.follower ?? 'roller',
    roller: (e.follower ?? 'roller') === 'roller' ? num(e.roller, 20) / 2 : 0,
    base: num(e.base) / 2,
    motion: swing ? 'swinging' : 'translating',
    offset: swing ? 0 : num(e.offset),
    distance: num(e.distance, 100),
    arm: num(e.arm, 80),
    side: e.armSide === 'right' ? -1 : 1,
  };
  const wrong = shapeProblem(shape);
  if (wrong) return wrong;
  const scale = swing ? RAD : 1;
  const points = (e.points ?? []).map((p) => ({ angle: p.angle, value: p.value * scale }));
  const segments = (e.segments ?? []).map((s) => ({ ...s, rise: s.rise * scale }));
  if (points.length) {
    const bad = pointsProblem(points);
    if (bad) return bad;
  } else {
    if (!segments.length) return 'it has no motion yet: state segments or a table of points';
    const bad = segmentsProblem(segments);
    if (bad) return bad;
  }
  const motion = points.length ? motionOfPoints(points) : motionOfSegments(segments);
  if (motion.least < -0.9 * shape.base) return 'the motion dips below the cam’s centre: enlarge the base circle';
  if (swing && (motion.most > 1.4 || motion.least < -1.4)) return 'a swinging follower may swing by at most 80°';
  return { shape, motion, profile: camProfile(shape, motion) };
}

const CAM_FIELDS = [
  numberField('base', 'Base circle diameter', { unit: 'mm', symbol: 'd0', required: true, above: 0, max: 1e4 }),
  choiceField('carries', 'Follower', ['translating', 'swinging'], { initial: 'translating' }),
  choiceField('follower', 'Follower’s face', ['roller', 'knife', 'flat'], { initial: 'roller' }),
  numberField('roller', 'Roller diameter', {
    unit: 'mm',
    initial: 20,
    above: 0,
    max: 1e4,
    when: (e: { follower?: string }) => (e.follower ?? 'roller') === 'roller',
  }),
  numberField('offset', 'Offset of the follower’s line', {
    unit: 'mm',
    symbol: 'e',
    initial: 0,
    min: -1e4,
    max: 1e4,
    when: (e: { carries?: string }) => !swinging(e),
  }),
  numberField('distance', 'Distance of the pivot', { unit: 'mm', initial: 100, above: 0, max: 1e5, when: swinging }),
  numberField('arm', 'Length of the arm', {
    unit: 'mm',
    initial: 80,
    above: 0,
    max: 1e5,
    when: (e: { carries?: string; follower?: string }) => swinging(e) && e.follower !== 'flat',
  }),
  choiceField('armSide', 'Arm lies', ['left', 'right'], {
    initial: 'left',
    when: swinging,
    help: 'Seen against the cam’s axis from the cam’s centre.',
  }),
  tableField('segments', 'Motion, segment by segment', {
    columns: [
      numberField('angle', 'Cam angle', { unit: 'deg', required: true, above: 0, max: 360 }),
      numberField('rise', 'Rise', { required: true, min: -1e4, max: 1e4, help: 'mm, or deg of a swinging follower; negative falls.' }),
      choiceField('law', 'Law', LAWS, { required: true }),
    ],
  }),
  tableField('points', 'or by a table of points', {
    columns: [
      numberField('angle', 'Cam angle', { unit: 'deg', required: true, min: -360, max: 720 }),
      numberField('value', 'Follower', { required: true, min: -1e4, max: 1e4 }),
    ],
    help: 'Where points are stated, a smooth closed curve goes through them and the segments do not count.',
  }),
  numberField('phase', 'Turned on its shaft by', { unit: 'deg', initial: 0, min: -1e6, max: 1e6 }),
  numberField('width', 'Width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e4 }),
  numberField('bore', 'Bore', { unit: 'mm', initial: 0, min: 0, max: 1e4 }),
  KEYWAY_FIELD,
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Cam = Element & Stated<typeof CAM_FIELDS>;

/**
 * A plate cam about z. Its motion law runs with its turning in the positive
 * sense; the part of the outline for cam angle φ lies at the polar angle −φ.
 */
/** Its motion the other way round: what it rose by last it falls by first. */
function inMirror(e: Cam): Partial<Cam> | string {
  if (e.segments?.some((x) => x.law === 'snail drop')) {
    return `“${e.name}” drops off at once, which has no picture in a mirror: state its motion by points`;
  }
  return {
    phase: -num(e.phase),
    offset: -num(e.offset),
    armSide: e.armSide === 'right' ? 'left' : 'right',
    ...(e.segments && { segments: [...e.segments].reverse().map((x) => ({ ...x, rise: -x.rise + 0 })) }),
    ...(e.points && {
      points: e.points.map((p) => ({ ...p, angle: (360 - p.angle) % 360 })).sort((a, b) => a.angle - b.angle),
    }),
  };
}

export const cam: ElementKind<Cam> = {
  type: 'cam',
  label: 'Plate cam',
  mirrored: inMirror,
  fields: CAM_FIELDS,
  shape(e) {
    const c = camOf(e);
    const w = num(e.width) / 2,
      r = num(e.base) / 2;
    const bore = Math.min(num(e.bore) / 2, 0.8 * r);
    const p = num(e.phase) * RAD;
    const outline = typeof c === 'string' ? circle(r) : turned(c.profile.curve, p);
    return [{ kind: 'prism', outline, holes: bore > 0 ? [boreOutline(bore, e.keyway)] : undefined, from: -w, to: w }];
  },
  derived(e): Derived[] {
    const c = camOf(e);
    if (typeof c === 'string') return [];
    const k = c.shape.motion === 'swinging' ? 1 / RAD : 1,
      unit = c.shape.motion === 'swinging' ? 'deg' : 'mm';
    return [
      { key: 'lift', label: 'Lift', symbol: 'h', value: (c.motion.most - c.motion.least) * k, unit },
      {
        key: 'pressure',
        label: 'Largest pressure angle',
        symbol: 'α',
        value: Math.abs(c.profile.pressureAngle) / RAD,
        unit: 'deg',
        formula: 'tan α = (ds/dφ + e) / (d + s)',
      },
      { key: 'pressureAt', label: 'at cam angle', value: c.profile.pressureAt / RAD, unit: 'deg' },
      { key: 'curvature', label: 'Smallest radius of curvature', symbol: 'ρ', value: c.profile.curvature, unit: 'mm' },
    ];
  },
  problems(e): ElementProblem[] {
    const c = camOf(e);
    if (typeof c === 'string') return [problem('cam-motion', { problem: c })];
    let least = Infinity;
    for (let i = 0; i < c.profile.outline.length; i += 2) least = Math.min(least, Math.hypot(c.profile.outline[i], c.profile.outline[i + 1]));
    const out: ElementProblem[] = holeProblem('a bore', num(e.bore), 2 * least);
    if (!out.length) out.push(...keywayProblems(e.keyway, num(e.bore), least));
    if (c.profile.undercut !== undefined) {
      out.push(
        problem('cam-undercut', {
          undercut: Math.round(c.profile.undercut / RAD),
          word: c.shape.form === 'roller' ? ' or take a smaller roller' : '',
        }),
      );
    }
    const limit = c.shape.motion === 'swinging' ? 45 : 30;
    if (Math.abs(c.profile.pressureAngle) > limit * RAD) {
      out.push(
        problem('cam-pressure-angle', {
          pressureAngle: (Math.abs(c.profile.pressureAngle) / RAD).toFixed(1),
          pressureAt: Math.round(c.profile.pressureAt / RAD),
          limit,
        }),
      );
    }
    return out;
  },
};

const FOLLOWER_FIELDS = [
  choiceField('form', 'Face', ['roller', 'knife', 'flat'], { initial: 'roller' }),
  numberField('size', 'Roller diameter or face length', { unit: 'mm', required: true, above: 0, max: 1e4 }),
  numberField('width', 'Width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e4 }),
  numberField('stem', 'Length of stem', { unit: 'mm', initial: 0, min: 0, max: 1e5 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Follower = Element & Stated<typeof FOLLOWER_FIELDS>;

/** A follower: its trace point (roller centre, knife edge, face) at the origin, z along the cam's axis, its stem along y. */
export const follower: ElementKind<Follower> = {
  type: 'follower',
  label: 'Follower',
  fields: FOLLOWER_FIELDS,
  shape(e) {
    const d = num(e.size),
      w = num(e.width) / 2,
      t = Math.max(0.1 * d, 2),
      stem = num(e.stem);
    const rod = stem > 0 ? [{ kind: 'prism' as const, outline: rectangle(-0.2 * d, 0, 0.2 * d, stem), from: -0.6 * w, to: 0.6 * w }] : [];
    if (e.form === 'flat') return [{ kind: 'prism', outline: rectangle(-d / 2, 0, d / 2, t), from: -w, to: w }, ...rod];
    if (e.form === 'knife') return [{ kind: 'prism', outline: polygon([0, 0, 0.2 * d, 0.5 * d, -0.2 * d, 0.5 * d]), from: -w, to: w }, ...rod];
    return [bar(d / 2, -w, w), ...rod];
  },
};

import type { Element } from '../fields/types';
import { type Stated, numberField, wholeField } from '../fields/fields';
import { problem } from '../findings/index';
import { teethCurve } from '../teeth/index';
import { DENSITY_FIELD, FORM_FIELDS, TOOTH_FIELDS, gearOf, num } from './gear';
import { KEYWAY_FIELD, boreOutline, keywayProblems } from './keyway';
import { type ElementKind, holeProblem, otherHand } from './protocol';
import { RATING_FIELDS } from './rating-fields';
import { SERIES_FIELDS, thicknessProblems } from './thickness';
import { type Outline, type Piece, type Point, type Solid, arc, circle, line, outline } from '../solids/index';

const RAD = Math.PI / 180;
/** A hub where none is stated, as a part of the root circle. */
const HUB = 0.3;

const hubOf = (root: number, stated: number, bore: number): number => Math.min(0.95 * root, Math.max(stated, 1.4 * bore, HUB * root));

const polar = (r: number, a: number): Point => [r * Math.cos(a), r * Math.sin(a)];

/** An open curve about the origin closed by lines down to a hub, and round it from an angle on. */
const withHub = (edge: { start: Point; pieces: readonly Piece[] }, hub: number, from: number, over: number): Outline =>
  outline(edge.start, [...edge.pieces, line(polar(hub, from)), arc(polar(hub, from), [0, 0], over), line(edge.start)]);

/** The part of a gear's circle over which a sector has teeth: angles of the first and the last tooth's centre, rad. */
export function sectorArc(e: Sector): { first: number; last: number; pitch: number } {
  const pitch = (2 * Math.PI) / num(e.teeth, 1);
  const first = num(e.phase) * RAD;
  return { first, last: first + (num(e.arcTeeth, 2) - 1) * pitch, pitch };
}

const FIELDS = [
  wholeField('teeth', 'Teeth of the whole circle', { symbol: 'z', required: true, min: 4, max: 2000 }),
  wholeField('arcTeeth', 'Teeth on the sector', { required: true, min: 2, max: 2000 }),
  numberField('phase', 'First tooth at', {
    unit: 'deg',
    symbol: 'φ',
    initial: 0,
    min: -360,
    max: 360,
    help: 'From the sector’s own zero, the other teeth following counter-clockwise.',
  }),
  ...TOOTH_FIELDS,
  numberField('shift', 'Profile shift', { symbol: 'x', initial: 0, min: -2, max: 3 }),
  numberField('width', 'Face width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e5 }),
  numberField('bore', 'Bore', { unit: 'mm', symbol: 'd₀', initial: 0, min: 0, max: 1e5 }),
  KEYWAY_FIELD,
  numberField('hub', 'Hub diameter', { unit: 'mm', initial: 0, min: 0, max: 1e5, help: 'Left open, it follows from root circle and bore.' }),
  ...FORM_FIELDS,
  ...SERIES_FIELDS,
  ...RATING_FIELDS,
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Sector = Element & Stated<typeof FIELDS>;

/** A sector with its teeth taken off, or filled, to a radius, mm. */
function sectorTo(e: Sector, radius: number): Solid[] {
  const g = gearOf(e);
  const { first, last, pitch } = sectorArc(e);
  const over = Math.min(num(e.arcTeeth, 2), g.teeth) * pitch;
  const bore = num(e.bore) / 2,
    hub = hubOf(g.rootRadius, num(e.hub) / 2, bore),
    b = num(e.width) / 2;
  const start = polar(radius, first - pitch / 2);
  const body = withHub({ start, pieces: [arc(start, [0, 0], over)] }, hub, last + pitch / 2, 2 * Math.PI - over);
  return [{ kind: 'prism', outline: body, holes: bore > 0 ? [circle(Math.min(bore, 0.9 * hub))] : [], from: -b, to: b }];
}

/** A sector gear: an external gear with teeth over part of its circle, with a hub; it meshes only there. */
export const sector: ElementKind<Sector> = {
  type: 'sector',
  label: 'Sector gear',
  mirrored: (e) => ({
    phase: (-num(e.phase) - ((num(e.arcTeeth, 2) - 1) * 360) / num(e.teeth)) % 360,
    ...(num(e.helix) !== 0 && { hand: otherHand(e.hand) }),
  }),
  fields: FIELDS,
  shape(e) {
    const g = gearOf(e);
    const { first, last, pitch } = sectorArc(e);
    const n = Math.min(num(e.arcTeeth, 2), g.teeth);
    const bore = num(e.bore) / 2,
      hub = hubOf(g.rootRadius, num(e.hub) / 2, bore);
    // Cut in the middle of the spaces before its first tooth and behind its last, then round its hub.
    const teeth = teethCurve(g, first, n);
    const body = n < g.teeth ? withHub(teeth, hub, last + pitch / 2, 2 * Math.PI - n * pitch) : outline(teeth.start, teeth.pieces);
    const b = num(e.width);
    const twist = g.beta === 0 ? 0 : (b * Math.tan(g.beta)) / g.pitchRadius;
    return [
      { kind: 'prism', outline: body, holes: bore > 0 ? [boreOutline(Math.min(bore, 0.9 * hub), e.keyway)] : [], from: -b / 2, to: b / 2, twist },
    ];
  },
  simplified(e) {
    const g = gearOf(e);
    const { first, last, pitch } = sectorArc(e);
    const arcOf: [number, number] = [first - pitch / 2, last + pitch / 2];
    const b = num(e.width) / 2;
    return {
      whole: sectorTo(e, g.tipRadius),
      ring: [],
      lines: [{ kind: 'pitch', from: [g.pitchRadius, -b], to: [g.pitchRadius, b], arc: arcOf }],
    };
  },
  plain: (e) => sectorTo(e, gearOf(e).rootRadius),
  derived(e) {
    const g = gearOf(e);
    return [
      { key: 'pitchDiameter', label: 'Pitch diameter', symbol: 'd', value: 2 * g.pitchRadius, unit: 'mm', formula: 'd = z·m' },
      { key: 'tipDiameter', label: 'Tip diameter', symbol: 'da', value: 2 * g.tipRadius, unit: 'mm', formula: 'da = d + 2·m·(haP* + x)' },
      { key: 'arc', label: 'Arc of the teeth', value: (360 * num(e.arcTeeth, 2)) / g.teeth, unit: 'deg', formula: '360°·n / z' },
    ];
  },
  problems(e) {
    const g = gearOf(e);
    const out = thicknessProblems(e, 2 * g.pitchRadius);
    if (num(e.arcTeeth, 2) > g.teeth) out.push(problem('sector-arc', { arcTeeth: num(e.arcTeeth), teeth: g.teeth }));
    if (num(e.bore) / 2 >= 0.9 * g.rootRadius) {
      out.push(problem('bore-too-large', { bore: num(e.bore), rootRadius: (2 * g.rootRadius).toFixed(2) }));
    }
    out.push(...holeProblem('a hub', num(e.hub), 2 * g.rootRadius, 'hub'));
    out.push(...keywayProblems(e.keyway, num(e.bore), hubOf(g.rootRadius, num(e.hub) / 2, num(e.bore) / 2)));
    return out;
  },
};

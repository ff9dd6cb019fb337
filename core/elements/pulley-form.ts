import { type Outline, type Piece, type Point, type Solid, arc, outline, polygon } from '../solids/index';

/**
 * Grooves of V-belt pulleys (ISO 4183, table 1; from memory), mm: datum width, groove above and below the datum line at least,
 * from groove to groove, from the edge to the first. The groove's angle is 34° up to a datum diameter, 38° above it.
 */
export const V_SECTIONS = {
  SPZ: { datum: 8.5, above: 2, below: 9, apart: 12, edge: 8, narrow: 80 },
  SPA: { datum: 11, above: 2.75, below: 11, apart: 15, edge: 10, narrow: 118 },
  SPB: { datum: 14, above: 3.5, below: 14, apart: 19, edge: 12.5, narrow: 190 },
  SPC: { datum: 19, above: 4.8, below: 19, apart: 25.5, edge: 17, narrow: 315 },
} as const;
export type VSection = keyof typeof V_SECTIONS;

/** How many grooves a pulley of a width has. */
export const groovesIn = (section: VSection, width: number): number => {
  const { apart, edge } = V_SECTIONS[section];
  return width < 2 * edge - 1e-9 ? 0 : Math.floor((width - 2 * edge) / apart + 1e-9) + 1;
};

/** The angle of a groove, deg, for a datum diameter. */
export const grooveAngle = (section: VSection, diameter: number): number => (diameter <= V_SECTIONS[section].narrow ? 34 : 38);

/** Half the width of a groove's floor by the angle between its flanks, mm; not above nothing where these meet before it. */
export const halfFloor = (section: VSection, angle: number): number =>
  V_SECTIONS[section].datum / 2 - V_SECTIONS[section].below * Math.tan((angle * Math.PI) / 360);

/** A grooved pulley: as many grooves as its width takes, in its middle; the datum line at `diameter`/2. */
export function groovedPulley(section: VSection, diameter: number, width: number, bore: number, angle = grooveAngle(section, diameter)): Solid {
  const { datum, above, below, apart } = V_SECTIONS[section];
  const [rim, floor] = [diameter / 2 + above, diameter / 2 - below];
  const slope = Math.tan((angle * Math.PI) / 360);
  const [open, bottom] = [datum / 2 + above * slope, halfFloor(section, angle)];
  const n = groovesIn(section, width);
  const points = [bore, -width / 2, rim, -width / 2];
  for (let k = 0; k < n; k++) {
    const z = (k - (n - 1) / 2) * apart;
    points.push(rim, z - open, floor, z - bottom, floor, z + bottom, rim, z + open);
  }
  points.push(rim, width / 2, bore, width / 2);
  return { kind: 'turned', section: polygon(points) };
}

/** Roller diameters of chains by pitch, mm (ISO 606, series B; from memory). */
const ROLLERS: readonly (readonly [pitch: number, roller: number])[] = [
  [8, 5],
  [9.525, 6.35],
  [12.7, 8.51],
  [15.875, 10.16],
  [19.05, 12.07],
  [25.4, 15.88],
  [31.75, 19.05],
  [38.1, 25.4],
  [44.45, 27.94],
  [50.8, 29.21],
];
/** The roller diameter of the chain of a pitch; undefined where the series has none. */
export const rollerOf = (pitch: number): number | undefined => ROLLERS.find(([p]) => Math.abs(p - pitch) < 1e-6)?.[1];

/** The angle from one direction to another counter-clockwise, rad, 0 … 2π. */
export const turnTo = (from: number, to: number): number => (((to - from) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);

/**
 * Teeth of a sprocket (ISO 606, 5.2; from memory): the roller's seat of radius 0.505 d₁ over 140° − 90°/z, flanks of radius
 * 0.12 d₁ (z + 2), tips between d + p (1 − 1.6/z) − d₁ and d + 1.25 p − d₁ across. Undefined where flanks meet below their tips.
 */
export function sprocketOutline(teeth: number, pitch: number, roller: number): Outline | undefined {
  const d = pitch / Math.sin(Math.PI / teeth);
  const seat = 0.505 * roller,
    flank = 0.12 * roller * (teeth + 2);
  const spread = ((140 - 90 / teeth) * Math.PI) / 180;
  const [least, most] = [d + pitch * (1 - 1.6 / teeth) - roller, d + 1.25 * pitch - roller];
  const tip = (least + most) / 4;
  const c = d / 2;
  // In a gap about the x axis: where the seat ends, and the middle of the flank beyond it.
  const away = Math.PI - spread / 2;
  const end: Point = [c + seat * Math.cos(away), seat * Math.sin(away)];
  const middle: Point = [c + (seat + flank) * Math.cos(away), (seat + flank) * Math.sin(away)];
  // Where the flank comes to the tips: circles about the middle and the axis.
  const far = Math.hypot(...middle);
  const along = (tip * tip - flank * flank + far * far) / (2 * far);
  const off = tip * tip - along * along;
  if (!(off > 0)) return undefined;
  const [ux, uy] = [middle[0] / far, middle[1] / far];
  // Of the two the one on the gap's side of its tooth.
  const h = Math.sqrt(off);
  const reached = [1, -1]
    .map((s): Point => [along * ux + s * h * uy, along * uy - s * h * ux])
    .sort((p, q) => Math.atan2(p[1], p[0]) - Math.atan2(q[1], q[0]));
  const at = reached.find((p) => Math.atan2(p[1], p[0]) > 0);
  if (!at || Math.atan2(at[1], at[0]) >= Math.PI / teeth) return undefined;
  const turned = (p: Point, a: number): Point => [p[0] * Math.cos(a) - p[1] * Math.sin(a), p[0] * Math.sin(a) + p[1] * Math.cos(a)];
  const low = (p: Point): Point => [p[0], -p[1]];
  const start = low(at);
  const pieces: Piece[] = [];
  let now = start;
  const put = (p: Piece): void => {
    pieces.push(p);
    now = p.to;
  };
  const about = (m: Point, p: Point): number => Math.atan2(p[1] - m[1], p[0] - m[0]);
  for (let k = 0; k < teeth; k++) {
    const a = (2 * Math.PI * k) / teeth;
    const [m1, m2, seatMiddle] = [turned(low(middle), a), turned(middle, a), turned([c, 0], a)];
    put(arc(now, m1, turnTo(about(m1, now), about(m1, turned(low(end), a)))));
    put(arc(now, seatMiddle, -spread));
    put(arc(now, m2, turnTo(about(m2, now), about(m2, turned(at, a)))));
    const next = turned(start, a + (2 * Math.PI) / teeth);
    put(arc(now, [0, 0], turnTo(about([0, 0], now), about([0, 0], next))));
  }
  // Rounding of a whole turn is taken into the last arc.
  return outline(start, [...pieces.slice(0, -1), { ...pieces.at(-1)!, to: start }]);
}

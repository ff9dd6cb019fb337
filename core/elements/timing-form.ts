import { type Outline, type Piece, type Point, arc, line, outline } from '../solids/index';
import { turnTo } from './pulley-form';

/** Gaps of toothed pulleys with straight flanks, mm and deg; see `TIMING_GAPS`. */
export interface TimingGap {
  readonly pitch: number;
  /** Width of the floor, depth below the tips, and half the angle between the flanks. */
  readonly floor: number;
  readonly depth: number;
  readonly half: number;
  /** Radius in the corners of the floor, and of the tips. */
  readonly root: number;
  readonly tip: number;
  /** How much larger the pitch diameter is than the outside diameter. */
  readonly above: number;
}

/** ISO 5294, table of gaps with straight flanks, by pitch codes (from memory). */
export const TIMING_GAPS: Readonly<Record<'XL' | 'L' | 'H' | 'XH' | 'XXH', TimingGap>> = {
  XL: { pitch: 5.08, floor: 1.32, depth: 1.65, half: 25, root: 0.41, tip: 0.64, above: 0.508 },
  L: { pitch: 9.525, floor: 3.05, depth: 2.67, half: 20, root: 1.19, tip: 1.17, above: 0.762 },
  H: { pitch: 12.7, floor: 4.19, depth: 3.05, half: 20, root: 1.6, tip: 1.6, above: 1.372 },
  XH: { pitch: 22.225, floor: 7.9, depth: 7.14, half: 20, root: 1.98, tip: 2.39, above: 2.794 },
  XXH: { pitch: 31.75, floor: 12.17, depth: 10.31, half: 20, root: 3.96, tip: 3.18, above: 3.048 },
};
/** The gap of a belt's pitch; undefined where the standard has none. */
export const timingGapOf = (pitch: number): TimingGap | undefined => Object.values(TIMING_GAPS).find((g) => Math.abs(g.pitch - pitch) < 1e-6);

/** Radius of the tips, mm: half the pitch diameter z·p/π, less the pitch line's height above them. */
export const timingTip = (teeth: number, { pitch, above }: TimingGap): number => (teeth * pitch) / (2 * Math.PI) - above / 2;

/**
 * Teeth of a toothed pulley: gaps with a flat floor and straight flanks, rounded below and at the tips. A gap is centred on +x.
 * Undefined where the gaps leave no tips between them, or reach the axis.
 */
export function timingOutline(teeth: number, gap: TimingGap): Outline | undefined {
  const half = (gap.half * Math.PI) / 180;
  const tip = timingTip(teeth, gap);
  const floor: Point = [tip - gap.depth, gap.floor / 2];
  if (!(floor[0] > 0)) return undefined;
  const [dx, dy] = [Math.cos(half), Math.sin(half)];
  // The rounding of the tips: its middle lies `gap.tip` from the flank, on the tooth's side, and as much within the tips.
  const [nx, ny] = [floor[0] - dy * gap.tip, floor[1] + dx * gap.tip];
  const along = nx * dx + ny * dy;
  const off = along ** 2 - (nx * nx + ny * ny - (tip - gap.tip) ** 2);
  if (!(off > 0)) return undefined;
  const flank = Math.sqrt(off) - along;
  // The rounding of the floor's corner: as long along the floor as along the flank.
  const corner = gap.root * Math.tan(Math.PI / 4 - half / 2);
  if (flank < corner || gap.floor / 2 < corner) return undefined;
  const middle: Point = [nx + flank * dx, ny + flank * dy];
  const top: Point = [(middle[0] * tip) / (tip - gap.tip), (middle[1] * tip) / (tip - gap.tip)];
  const ends: Point = [floor[0] + flank * dx, floor[1] + flank * dy];
  if (Math.atan2(top[1], top[0]) >= Math.PI / teeth) return undefined;
  const bottom: Point = [floor[0], floor[1] - corner];
  const rises: Point = [floor[0] + corner * dx, floor[1] + corner * dy];
  const round: Point = [bottom[0] + gap.root, bottom[1]];

  const low = (p: Point): Point => [p[0], -p[1]];
  const about = (m: Point, p: Point): number => Math.atan2(p[1] - m[1], p[0] - m[0]);
  const pieces: Piece[] = [];
  const start = low(top);
  let now = start;
  for (let k = 0; k < teeth; k++) {
    const a = (2 * Math.PI * k) / teeth;
    const [c, s] = [Math.cos(a), Math.sin(a)];
    const at = (p: Point): Point => [p[0] * c - p[1] * s, p[0] * s + p[1] * c];
    const put = (p: Piece): void => {
      pieces.push(p);
      now = p.to;
    };
    const into = (m: Point, to: Point, sense: 1 | -1): void => {
      const [from, until] = [about(at(m), now), about(at(m), at(to))];
      put({ ...arc(now, at(m), sense > 0 ? turnTo(from, until) : -turnTo(until, from)), to: at(to) });
    };
    into(low(middle), low(ends), 1);
    put(line(at(low(rises))));
    into(low(round), low(bottom), -1);
    put(line(at(bottom)));
    into(round, rises, -1);
    put(line(at(ends)));
    into(middle, top, 1);
    const next = (2 * Math.PI) / teeth;
    const [c1, s1] = [Math.cos(next), Math.sin(next)];
    into([0, 0], [start[0] * c1 - start[1] * s1, start[0] * s1 + start[1] * c1], 1);
  }
  // Rounding of a whole turn is taken into the last arc.
  return outline(start, [...pieces.slice(0, -1), { ...pieces.at(-1)!, to: start }]);
}

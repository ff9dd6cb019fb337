/** How a turn or a slide is told: its units, and how many of each go on the SI unit (rad or m, rad/s or m/s, N·m or N). */
export interface MotionUnit {
  readonly slides: boolean;
  /** Stops, homes and positions. */
  readonly place: 'deg' | 'mm';
  readonly placesPerSi: number;
  /** Travel that goes on over many turns. */
  readonly path: 'rev' | 'mm';
  readonly speed: 'rev/min' | 'mm/s';
  readonly speedsPerSi: number;
  readonly acceleration: 'rad/s²' | 'mm/s²';
  readonly accelerationsPerSi: number;
  /** What drives it. */
  readonly effort: 'N·m' | 'N';
  readonly inertia: 'kg·m²' | 'kg';
}

export const TURNING: MotionUnit = {
  slides: false,
  place: 'deg',
  placesPerSi: 180 / Math.PI,
  path: 'rev',
  speed: 'rev/min',
  speedsPerSi: 60 / (2 * Math.PI),
  acceleration: 'rad/s²',
  accelerationsPerSi: 1,
  effort: 'N·m',
  inertia: 'kg·m²',
};

export const SLIDING: MotionUnit = {
  slides: true,
  place: 'mm',
  placesPerSi: 1e3,
  path: 'mm',
  speed: 'mm/s',
  speedsPerSi: 1e3,
  acceleration: 'mm/s²',
  accelerationsPerSi: 1e3,
  effort: 'N',
  inertia: 'kg',
};

/** The units of a motion; a helix is told by its turning, and so is what stands still. */
export const motionUnit = (motion: 'turn' | 'slide' | 'helix' | 'still' | boolean): MotionUnit =>
  motion === 'slide' || motion === true ? SLIDING : TURNING;

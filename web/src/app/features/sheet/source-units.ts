import { torqueAt } from '@unirota/core';
import type { DrivingSource, Field } from '@unirota/core/document';
import { motionUnit } from '@unirota/core/units';

/** Units of what a source states: of its own joint, and of the joint whose motion it follows; [turning, sliding]. */
const OWN: Readonly<Record<string, readonly [string, string]>> = {
  speed: ['rev/min', 'mm/s'],
  noLoad: ['rev/min', 'mm/s'],
  mostSpeed: ['rev/min', 'mm/s'],
  torque: ['N·m', 'N'],
  stall: ['N·m', 'N'],
  brake: ['N·m', 'N'],
  mostTorque: ['N·m', 'N'],
  rotor: ['kg·m²', 'kg'],
};
const MOTION: Readonly<Record<string, readonly [string, string]>> = {
  amount: ['deg', 'mm'],
  topSpeed: ['rev/min', 'mm/s'],
  topAcceleration: ['rad/s²', 'mm/s²'],
  jerk: ['rad/s³', 'mm/s³'],
  // Columns of the tables.
  'ramps.speed': ['rev/min', 'mm/s'],
  'table.value': ['deg', 'mm'],
  'line.speed': ['rev/min', 'mm/s'],
  'line.torque': ['N·m', 'N'],
};

/**
 * A field of a source with the units that it has for its joint: `slides`
 * where that slides, `moves` where the joint does whose motion is stated.
 */
export function inItsUnits(f: Field, slides: boolean, moves: boolean): Field {
  const pick = (key: string, one: boolean): string | undefined => {
    const units = OWN[key] ?? MOTION[key];
    return units?.[one ? 1 : 0];
  };
  if (f.columns) {
    const sliding = f.key === 'line' ? slides : moves;
    return { ...f, columns: f.columns.map((c) => ({ ...c, unit: pick(`${f.key}.${c.key}`, sliding) ?? c.unit })) };
  }
  const unit = pick(f.key, f.key in MOTION ? moves : slides);
  return unit === undefined ? f : { ...f, unit };
}

/** The torque-speed line of a source, with the speed at which it works. */
export function torqueLine(source: DrivingSource, slide: boolean, at: number | undefined): TorqueLine {
  const points = source.line ?? [];
  const top = points.length > 1 ? points[points.length - 1].speed : (source.noLoad ?? 0);
  const unit = motionUnit(slide);
  const xs = Array.from({ length: 41 }, (_, k) => (top * k) / 40);
  return { xs, ys: xs.map((n) => torqueAt(source, n / unit.speedsPerSi, slide)), at, unit: unit.effort, xUnit: unit.speed };
}
/** Over speed, in the units that are named. */
export interface TorqueLine {
  readonly xs: number[];
  readonly ys: number[];
  readonly at: number | undefined;
  readonly unit: string;
  readonly xUnit: string;
}

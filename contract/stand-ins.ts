/**
 * Stand-ins for outside devices: a simulated drive and a simulated sensor
 * behind one WebSocket of the server, for the machine itself alone.
 */
import * as yup from 'yup';
import { fieldsShape, numberField, wholeField } from '@unirota/core/document';
import { one } from './shapes';

export const STAND_INS = '/api/stand-ins';

/** What a person states of the stand-in drive. */
export const DRIVE_FIELDS = [
  numberField('limit', 'Current limit', { required: true, above: 0, max: 1e6, help: 'A' }),
  numberField('constant', 'Torque by current', { required: true, above: 0, max: 1e9, help: 'N·m/A, or N/A of a linear motor.' }),
  numberField('inertia', 'Inertia of the motor', { required: true, above: 0, max: 1e9, help: 'kg·m², or kg of a linear motor.' }),
  wholeField('counts', 'Encoder counts', { required: true, min: 4, max: 100_000_000, help: 'For a turn, or for a metre of a linear motor.' }),
] as const;
/** What a person states of the stand-in sensor. */
export const SENSOR_FIELDS = [
  numberField('rate', 'Readings a second', { required: true, above: 0, max: 10_000 }),
  numberField('resolution', 'Resolution', { required: true, min: 0, max: 1e9 }),
  numberField('noise', 'Noise', { required: true, min: 0, max: 1e9, help: 'Standard deviation, in the unit of what is read.' }),
  numberField('missing', 'Readings that fail', { required: true, min: 0, max: 90, help: 'In the hundred.' }),
] as const;

/** The most instants of a series that a stand-in takes. */
export const MOST_INSTANTS = 20_000;
const series = yup.array().of(yup.number().strict().required().min(-1e15).max(1e15)).strict().required().min(2).max(MOST_INSTANTS);
/** As many as there are times. */
const sameLength =
  (of: string[]) =>
  (v: Record<string, unknown>): boolean =>
    new Set(of.map((k) => (v[k] as unknown[] | undefined)?.length)).size === 1;
/** Never slower than the clock: a device is somebody's for an hour at the most. */
const pace = yup
  .number()
  .strict()
  .required()
  .min(0)
  .max(1000)
  .test('pace', 'pace must be 0 or at least 1', (v) => v === 0 || v! >= 1);

export const driveOrderSchema = one({
  device: yup.string().strict().required().oneOf(['drive']),
  ...fieldsShape(DRIVE_FIELDS),
  slide: yup.boolean().strict().required(),
  pace,
  time: series,
  place: series,
  speed: series,
  effort: series,
  load: series,
}).test('lengths', 'time, place, speed, effort and load must be of one length', (v: unknown) =>
  sameLength(['time', 'place', 'speed', 'effort', 'load'])(v as Record<string, unknown>),
);
export const sensorOrderSchema = one({
  device: yup.string().strict().required().oneOf(['sensor']),
  ...fieldsShape(SENSOR_FIELDS),
  pace,
  time: series,
  value: series,
}).test('lengths', 'time and value must be of one length', (v: unknown) => sameLength(['time', 'value'])(v as Record<string, unknown>));

/**
 * A speed to be played, rad/s or m/s over s, on a drive whose load is by
 * place (rad or m) an effort (N·m or N) and an inertia `load` (kg·m² or kg).
 */
export interface DriveOrder {
  device: 'drive';
  limit: number;
  constant: number;
  inertia: number;
  counts: number;
  /** A linear motor: places are m, not rad. */
  slide: boolean;
  /** So many times as fast as the clock, 1 or more; 0: as fast as can be. */
  pace: number;
  time: number[];
  place: number[];
  speed: number[];
  effort: number[];
  load: number[];
}
/** A quantity to be read over s. */
export interface SensorOrder {
  device: 'sensor';
  rate: number;
  resolution: number;
  noise: number;
  missing: number;
  pace: number;
  time: number[];
  value: number[];
}
export type StandInOrder = DriveOrder | SensorOrder;

/** Readings of a drive: s, encoder counts from where it began, rad/s or m/s, N·m or N, A. */
export interface DriveReadings {
  time: number[];
  counts: number[];
  speed: number[];
  effort: number[];
  current: number[];
}
/** Readings of a sensor; null where one failed. */
export interface SensorReadings {
  time: number[];
  value: (number | null)[];
}
/** What a stand-in says, in messages of their own. */
export type StandInWord<R> = { readings: R; done: number } | { end: true } | { problem: string };

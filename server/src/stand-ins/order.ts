import { MOST_INSTANTS, type StandInOrder, driveOrderSchema, sensorOrderSchema } from '@unirota/contract/stand-ins';
import { nestedTooDeep, requestProblems } from '../jobs/reading';

/**
 * How long an order may play, s; and where on the clock its times may lie, so that a step of a millisecond is not lost in
 * rounding.
 */
export const LONGEST_S = 3600;
const LATEST_S = 1e6;
/** An order is an object with lists of numbers. */
const DEEPEST = 2;

/**
 * Reads an order from the bytes of a message; what is wrong with it in a sentence. Costs no more than its length, and never
 * throws.
 */
export function orderIn(bytes: Uint8Array): StandInOrder | { problem: string } {
  if (nestedTooDeep(bytes, DEEPEST)) return { problem: 'The order is nested too deep to be one' };
  let order: StandInOrder;
  try {
    order = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) as StandInOrder;
  } catch {
    return { problem: 'The order is not JSON' };
  }
  const device = (order as { device?: unknown } | null)?.device;
  if (device !== 'drive' && device !== 'sensor') return { problem: 'The order is for no device that is known here: drive or sensor' };
  // Lengths before what is in them: a schema looks at every number.
  if (Object.values(order).some((x) => Array.isArray(x) && x.length > MOST_INSTANTS)) {
    return { problem: `An order has at most ${MOST_INSTANTS} instants` };
  }
  const refused = requestProblems(device === 'drive' ? driveOrderSchema : sensorOrderSchema, order);
  if (refused) return { problem: refused.problems?.[0]?.message ?? refused.title };
  const { time } = order;
  if (time.some((t, i) => i > 0 && t < time[i - 1])) return { problem: 'The times must rise' };
  if (time.some((t) => Math.abs(t) > LATEST_S)) return { problem: `Times lie within ${LATEST_S} s` };
  const long = time[time.length - 1] - time[0];
  if (!(long > 0) || long > LONGEST_S) return { problem: `An order lasts at most ${LONGEST_S / 60} minutes` };
  return order;
}

import type { StandInWord } from '@unirota/contract/stand-ins';
import { StandInDrive } from './drive';
import { orderIn } from './order';
import { StandInSensor } from './sensor';

/**
 * How often a device says something, ms; how much of its time it plays at a stretch where it goes as fast as can be, s, and how
 * long it then leaves to others, ms.
 */
const EVERY = 50;
const STRETCH = 10;
const REST = 2;

/**
 * Plays the order in a message on its device, in step with the clock or as fast as can be: what is said goes to `say`, one text
 * each; ends with nothing.
 */
export function play(bytes: Uint8Array, say: (text: string | undefined) => void): void {
  const words = (word: StandInWord<unknown>): void => say(JSON.stringify(word));
  const order = orderIn(bytes);
  if ('problem' in order) {
    words(order);
    return say(undefined);
  }
  const device = order.device === 'drive' ? new StandInDrive(order) : new StandInSensor(order);
  const begun = Date.now();
  let played = 0;
  const go = (): void => {
    played = order.pace > 0 ? ((Date.now() - begun) / 1000) * order.pace : played + STRETCH;
    words({ readings: device.until(played), done: Math.min(1, played / device.duration) });
    if (played >= device.duration) {
      words({ end: true });
      say(undefined);
    } else setTimeout(go, order.pace > 0 ? EVERY : REST);
  };
  go();
}

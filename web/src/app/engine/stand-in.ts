import { STAND_INS, type DriveOrder, type DriveReadings, type SensorOrder, type SensorReadings, type StandInWord } from '@unirota/contract/stand-ins';

/**
 * Has a stand-in of the server play an order; its readings come as
 * it goes. Rejects with a sentence; ended with the signal, quietly.
 */
export function playOnStandIn(order: DriveOrder, heard: (r: DriveReadings, done: number) => void, ended: AbortSignal): Promise<void>;
export function playOnStandIn(order: SensorOrder, heard: (r: SensorReadings, done: number) => void, ended: AbortSignal): Promise<void>;
export function playOnStandIn<R>(order: DriveOrder | SensorOrder, heard: (r: R, done: number) => void, ended: AbortSignal): Promise<void> {
  const url = new URL(STAND_INS, location.href);
  url.protocol = url.protocol === 'https:' ? 'wss:' : 'ws:';
  const socket = new WebSocket(url);
  return new Promise((resolve, reject) => {
    let whole = false;
    ended.addEventListener('abort', () => socket.close());
    socket.addEventListener('open', () => socket.send(JSON.stringify(order)));
    socket.addEventListener('message', (e: MessageEvent<string>) => {
      const word = JSON.parse(e.data) as StandInWord<R>;
      if ('problem' in word) reject(new Error(word.problem));
      else if ('end' in word) whole = true;
      else heard(word.readings, word.done);
    });
    socket.addEventListener('close', () => {
      if (whole || ended.aborted) resolve();
      else reject(new Error('The stand-in cannot be reached: it answers on the machine of the server alone'));
    });
  });
}

import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import type { RequestHandler, Response } from 'express';
import { type WebSocket, WebSocketServer } from 'ws';
import { STAND_INS, type StandInOrder, type StandInWord, driveOrderSchema, sensorOrderSchema } from '@unirota/contract/stand-ins';
import { isLoopback } from '../config';
import { Refusal } from '../http/problem';
import { requestProblems } from '../jobs/reading';
import { StandInDrive } from './drive';
import { StandInSensor } from './sensor';

/** Devices that are played at once, how long one may take, and how large an order may be. */
const MOST_AT_ONCE = 8;
const LONGEST_S = 3600;
const LONGEST_MS = (LONGEST_S + 60) * 1000;
/** How long a socket may wait for its order, ms. */
const ORDER_WITHIN = 10_000;
const LARGEST = 4 * 1024 * 1024;
/** How often a device says something, ms; and how much of its time it plays at a stretch where it goes as fast as can be, s. */
const EVERY = 50;
const STRETCH = 10;

const words = (socket: WebSocket, word: StandInWord<unknown>): void => {
  if (socket.readyState === socket.OPEN) socket.send(JSON.stringify(word));
};

function orderIn(text: string): StandInOrder | { problem: string } {
  let order: StandInOrder;
  try {
    order = JSON.parse(text) as StandInOrder;
  } catch {
    return { problem: 'The order is not JSON' };
  }
  const device = (order as { device?: unknown } | null)?.device;
  if (device !== 'drive' && device !== 'sensor') return { problem: 'The order is for no device that is known here: drive or sensor' };
  const refused = requestProblems(device === 'drive' ? driveOrderSchema : sensorOrderSchema, order);
  if (refused) return { problem: refused.problems?.[0]?.message ?? refused.title };
  if (order.time.some((t, i) => i > 0 && t < order.time[i - 1])) return { problem: 'The times must rise' };
  const long = order.time[order.time.length - 1] - order.time[0];
  if (!(long > 0) || long > LONGEST_S) return { problem: `An order lasts at most ${LONGEST_S / 60} minutes` };
  return order;
}

/** Plays an order on its device, in step with the clock or as fast as can be; the socket's end is its end. */
function play(socket: WebSocket, order: StandInOrder): void {
  const device = order.device === 'drive' ? new StandInDrive(order) : new StandInSensor(order);
  const begun = Date.now();
  let played = 0;
  const go = (): void => {
    if (socket.readyState !== socket.OPEN) return;
    played = order.pace > 0 ? ((Date.now() - begun) / 1000) * order.pace : played + STRETCH;
    words(socket, { readings: device.until(played), done: Math.min(1, played / device.duration) });
    if (played >= device.duration) {
      words(socket, { end: true });
      socket.close();
    } else if (order.pace > 0) setTimeout(go, EVERY);
    else setImmediate(go);
  };
  go();
}

/** The stand-ins behind their WebSocket: the same guards as every request has, and for the machine itself alone. */
export class StandIns {
  private readonly sockets = new WebSocketServer({ noServer: true, maxPayload: LARGEST });

  constructor(private readonly guards: readonly RequestHandler[]) {}

  upgrade = (req: IncomingMessage, socket: Duplex, head: Buffer): void => {
    socket.on('error', () => socket.destroy());
    const refuse = (status: number, title: string): void => {
      socket.end(`HTTP/1.1 ${status} ${title.replace(/[^ -~]/g, '')}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`);
    };
    this.admit(req).then(
      () => this.sockets.handleUpgrade(req, socket, head, (ws) => this.take(ws)),
      (e: unknown) => (e instanceof Refusal ? refuse(e.status, e.message) : refuse(500, 'This is a fault of the program')),
    );
  };

  private async admit(req: IncomingMessage): Promise<void> {
    if (req.url?.split('?')[0] !== STAND_INS) throw new Refusal(404, 'There is nothing at this address');
    const from = (req.socket.remoteAddress ?? '').replace(/^::ffff:/, '');
    if (!isLoopback(from)) throw new Refusal(403, 'Stand-ins are for the machine itself');
    if (this.sockets.clients.size >= MOST_AT_ONCE) throw new Refusal(503, 'All stand-ins are at work');
    const res = { locals: {} } as Response;
    for (const guard of this.guards) {
      await new Promise<void>((resolve, reject) => {
        Promise.resolve(guard(req as never, res, (e?: unknown) => (e ? reject(e as Error) : resolve()))).catch(reject);
      });
    }
  }

  private take(socket: WebSocket): void {
    let late = setTimeout(() => socket.terminate(), ORDER_WITHIN);
    socket.once('close', () => clearTimeout(late));
    socket.on('error', () => socket.terminate());
    socket.once('message', (data: Buffer) => {
      clearTimeout(late);
      late = setTimeout(() => socket.terminate(), LONGEST_MS);
      const order = orderIn(data.toString());
      if (!('problem' in order)) return play(socket, order);
      words(socket, order);
      socket.close();
    });
  }

  end(): void {
    for (const s of this.sockets.clients) s.terminate();
    this.sockets.close();
  }
}

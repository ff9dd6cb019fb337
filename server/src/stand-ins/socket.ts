import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { Worker } from 'node:worker_threads';
import type { WebSocket } from 'ws';
import { STAND_INS, type StandInWord } from '@unirota/contract/stand-ins';
import type { Person } from '../accounts/person';
import type { Door } from '../accounts/upgrades';
import { isLoopback } from '../loopback';
import { Refusal } from '../refusal';
import { LONGEST_S } from './order';

/** Devices that are played at once: of all, and of one person. How long one may take, and how large an order may be. */
const MOST_AT_ONCE = 8;
const MOST_OF_ONE = 3;
const LONGEST_MS = (LONGEST_S + 60) * 1000;
/** How long a socket may wait for its order, and how long it may take to be read, ms. */
const ORDER_WITHIN = 10_000;
const READ_WITHIN = 30_000;
const LARGEST = 4 * 1024 * 1024;
const MEMORY_MB = 256;
/** Bytes that a socket may leave unread before its device is stopped. */
const MOST_UNREAD = 32 * 1024 * 1024;

const words = (socket: WebSocket, word: StandInWord<unknown>): void => {
  if (socket.readyState === socket.OPEN) socket.send(JSON.stringify(word));
};

/**
 * The stand-ins behind their WebSocket, for the machine itself alone. Each order is read and played in a thread of its own, so
 * that no message costs the thread that answers more than its bytes; what goes wrong there ends that socket only.
 */
export class StandIns implements Door {
  readonly path = new RegExp(`^${STAND_INS}$`);
  readonly largest = LARGEST;
  /** Whose socket each is; those that are being admitted count as well. */
  private readonly owners = new Map<object, string>();

  knock(req: IncomingMessage, socket: Duplex): void {
    const from = (req.socket.remoteAddress ?? '').replace(/^::ffff:/, '');
    // What a proxy on this machine passes on comes from elsewhere.
    const passedOn = ['forwarded', 'x-forwarded-for', 'x-real-ip', 'via'].some((h) => req.headers[h] !== undefined);
    if (!isLoopback(from) || passedOn) throw new Refusal(403, 'Stand-ins are for the machine itself');
    if (this.owners.size >= MOST_AT_ONCE) throw new Refusal(503, 'All stand-ins are at work');
    this.owners.set(socket, '');
    socket.once('close', () => this.owners.delete(socket));
  }

  admit(person: Person, _match: unknown, _req: unknown, socket: Duplex): (ws: WebSocket) => void {
    const own = [...this.owners.values()].filter((x) => x === person.id).length;
    if (own >= MOST_OF_ONE) throw new Refusal(503, `One person has at most ${MOST_OF_ONE} stand-ins at work`);
    this.owners.set(socket, person.id);
    return (ws) => this.take(ws);
  }

  private take(socket: WebSocket): void {
    let late = setTimeout(() => socket.terminate(), ORDER_WITHIN);
    socket.once('close', () => clearTimeout(late));
    socket.on('error', () => socket.terminate());
    socket.once('message', (data: Buffer) => {
      clearTimeout(late);
      late = setTimeout(() => socket.terminate(), READ_WITHIN);
      const worker = new Worker(new URL('./worker.mjs', import.meta.url), { execArgv: [], resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB } });
      const end = (): void => void worker.terminate();
      socket.once('close', end);
      let began = false;
      worker.on('message', (text: string | undefined) => {
        if (text === undefined) return socket.close();
        if (!began) {
          began = true;
          clearTimeout(late);
          late = setTimeout(() => socket.terminate(), LONGEST_MS);
        }
        if (socket.bufferedAmount > MOST_UNREAD) return socket.terminate();
        if (socket.readyState === socket.OPEN) socket.send(text);
      });
      worker.on('error', () => {
        words(socket, { problem: 'The order could not be played' });
        socket.close();
      });
      worker.once('exit', () => socket.close());
      worker.postMessage(Uint8Array.from(data));
    });
  }
}

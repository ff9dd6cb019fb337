import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import type { Request, RequestHandler, Response } from 'express';
import { type WebSocket, WebSocketServer } from 'ws';
import { Refusal, databaseAway } from '../refusal';
import type { Person } from './person';

/** What is behind the address of a WebSocket. */
export interface Door {
  /** Its addresses, without what is asked after `?`. */
  readonly path: RegExp;
  /** Bytes of the largest message that is taken. */
  readonly largest: number;
  /** Refuses what needs no look at who asks. */
  knock?(req: IncomingMessage, socket: Duplex): void;
  /** Refuses whom it is not for; gives what takes the open socket. */
  admit(
    person: Person,
    match: RegExpExecArray,
    req: IncomingMessage,
    socket: Duplex,
  ): Promise<(socket: WebSocket) => void> | ((socket: WebSocket) => void);
}

/** The WebSockets of the server: every door has the same guards as every request. What goes wrong ends that socket only. */
export class Upgrades {
  private readonly sockets: readonly { door: Door; server: WebSocketServer }[];

  constructor(
    private readonly guards: readonly RequestHandler[],
    doors: readonly Door[],
  ) {
    this.sockets = doors.map((door) => ({
      door,
      server: new WebSocketServer({ noServer: true, maxPayload: door.largest, perMessageDeflate: false }),
    }));
  }

  upgrade = (req: IncomingMessage, socket: Duplex, head: Buffer): void => {
    socket.on('error', () => socket.destroy());
    const refuse = (status: number, title: string): void => {
      socket.end(`HTTP/1.1 ${status} ${title.replace(/[^ -~]/g, '')}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`);
    };
    this.admit(req, socket).then(
      ({ server, take }) => {
        try {
          server.handleUpgrade(req, socket, head, take);
        } catch {
          socket.destroy();
        }
      },
      (e: unknown) => {
        if (e instanceof Refusal) refuse(e.status, e.message);
        else if (databaseAway(e)) refuse(503, 'The database does not answer');
        else refuse(500, 'This is a fault of the program');
      },
    );
  };

  private async admit(req: IncomingMessage, socket: Duplex): Promise<{ server: WebSocketServer; take: (ws: WebSocket) => void }> {
    const path = req.url?.split('?')[0] ?? '';
    for (const { door, server } of this.sockets) {
      const match = door.path.exec(path);
      if (!match) continue;
      door.knock?.(req, socket);
      const person = await this.askedBy(req);
      return { server, take: await door.admit(person, match, req, socket) };
    }
    throw new Refusal(404, 'There is nothing at this address');
  }

  /** Who asks, as every guard of a request lets them. */
  private async askedBy(req: IncomingMessage): Promise<Person> {
    const res = { locals: {}, setHeader: () => undefined } as unknown as Response;
    for (const guard of this.guards) {
      await new Promise<void>((resolve, reject) => {
        Promise.resolve(guard(req as Request, res, (e?: unknown) => (e ? reject(e as Error) : resolve()))).catch(reject);
      });
    }
    return res.locals['person'] as Person;
  }

  end(): void {
    for (const { server } of this.sockets) {
      for (const s of server.clients) s.terminate();
      server.close();
    }
  }
}

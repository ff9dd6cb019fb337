import type { IncomingMessage, Server } from 'node:http';
import type { Socket } from 'node:net';

export interface SocketLimits {
  /** Connections of one address at once. */
  connections: number;
  /** Connections of one address that are in the middle of sending a request. */
  unfinished: number;
  /** Until the headers, and until the whole request, must be there, ms. */
  headers: number;
  request: number;
}
export const SOCKET_LIMITS: SocketLimits = { connections: 1024, unfinished: 128, headers: 10_000, request: 60_000 };

/**
 * Bounds what one address can hold open: connections, and requests that are begun and not finished; both are ended in time. Addresses of
 * trusted proxies speak for many and are told by `exempt`.
 */
export function boundSockets(server: Server, limits: SocketLimits = SOCKET_LIMITS, exempt: (address: string) => boolean = () => false): void {
  server.headersTimeout = limits.headers;
  server.requestTimeout = limits.request;
  server.keepAliveTimeout = 65_000;
  server.maxHeadersCount = 100;
  const all = new Map<string, Set<Socket>>();
  const unfinished = new Map<string, Set<Socket>>();
  const add = (map: Map<string, Set<Socket>>, s: Socket, address: string): number => {
    const set = map.get(address) ?? new Set();
    map.set(address, set.add(s));
    return set.size;
  };
  const remove = (map: Map<string, Set<Socket>>, s: Socket, address: string): void => {
    const set = map.get(address);
    set?.delete(s);
    if (!set?.size) map.delete(address);
  };
  server.on('connection', (s: Socket) => {
    const address = s.remoteAddress ?? '';
    if (exempt(address)) return;
    if (add(all, s, address) > limits.connections) s.destroy();
    if (add(unfinished, s, address) > limits.unfinished) {
      // The one that has been at it longest makes room.
      const oldest = unfinished.get(address)!.values().next().value!;
      if (oldest !== s) remove(unfinished, oldest, address);
      oldest.destroy();
    }
    s.once('close', () => {
      remove(all, s, address);
      remove(unfinished, s, address);
    });
  });
  server.on('request', (req: IncomingMessage) => {
    const s = req.socket;
    const address = s.remoteAddress ?? '';
    if (exempt(address)) return;
    const finished = (): void => remove(unfinished, s, address);
    if (req.complete || (req.headers['content-length'] ?? '0') === '0') finished();
    else {
      add(unfinished, s, address);
      req.once('end', finished);
      req.once('close', finished);
    }
  });
}

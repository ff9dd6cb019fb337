import { type IncomingMessage, type RequestListener, type Server, createServer } from 'node:http';
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
 * A server that bounds what one address can hold open: connections, and requests that are begun and not finished; both are ended
 * in time. Addresses of trusted proxies speak for many and are told by `exempt`.
 */
export function boundedServer(
  app: RequestListener,
  limits: SocketLimits = SOCKET_LIMITS,
  exempt: (address: string) => boolean = () => false,
): Server {
  const server = createServer(
    {
      headersTimeout: limits.headers,
      requestTimeout: limits.request,
      keepAliveTimeout: 65_000,
      // Node looks for late ones this often; its own half a minute would be most of the time they are given.
      connectionsCheckingInterval: Math.min(1000, limits.headers / 2),
    },
    app,
  );
  server.maxHeadersCount = 100;
  const all = new Map<string, Set<Socket>>();
  const unfinished = new Map<string, Set<Socket>>();
  /** Those that send a body, by who they are: address and cookie. One person's never make room for another's. */
  const sending = new Map<string, Set<Socket>>();
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
      // Of those that have not even said what they want, the one that has been at it longest makes room.
      const oldest = unfinished.get(address)!.values().next().value!;
      if (oldest !== s) remove(unfinished, oldest, address);
      oldest.destroy();
    }
    s.once('close', () => {
      remove(all, s, address);
      remove(unfinished, s, address);
    });
  });
  server.on('upgrade', (req: IncomingMessage) => remove(unfinished, req.socket, req.socket.remoteAddress ?? ''));
  server.on('request', (req: IncomingMessage) => {
    const s = req.socket;
    const address = s.remoteAddress ?? '';
    if (exempt(address)) return;
    remove(unfinished, s, address);
    if (req.complete || (req.headers['content-length'] ?? '0') === '0') return;
    const who = `${address} ${req.headers.cookie ?? ''}`;
    if (add(sending, s, who) > limits.unfinished) {
      const oldest = sending.get(who)!.values().next().value!;
      if (oldest !== s) remove(sending, oldest, who);
      oldest.destroy();
    }
    const finished = (): void => remove(sending, s, who);
    req.once('end', finished);
    req.once('close', finished);
  });
  return server;
}

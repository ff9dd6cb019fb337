import type { RequestHandler } from 'express';
import type { Config } from '../config';
import { Refusal } from '../refusal';

/** The name in a Host header or an origin, without the port; undefined where there is none. */
function hostName(host: string | undefined): string | undefined {
  if (!host || /[\s/@\\?#]/.test(host) || !URL.canParse(`http://${host}`)) return undefined;
  return new URL(`http://${host}`).hostname.toLowerCase();
}

/**
 * Answers only under the names of this server: another name that
 * leads here is a trick against the browser of whoever sits at it.
 */
export function knownHosts({ hosts }: Pick<Config, 'hosts'>): RequestHandler {
  return (req, _res, next) => {
    const name = hostName(req.headers.host);
    if (!name) throw new Refusal(400, 'The request does not say whom it is for');
    if (!hosts.has(name)) {
      throw new Refusal(421, 'This server does not answer under this name', {
        detail: 'Whoever runs it names its public address in UNIROTA_ADDRESS',
      });
    }
    next();
  };
}

/** Where contents of shapes are put, and releases posted, which are no JSON. */
const BYTES: Readonly<Record<string, RegExp>> = { PUT: /^\/designs\/[^/]+\/shapes\/[^/]+$/, POST: /^\/designs\/[^/]+\/releases$/ };

const READS = new Set(['GET', 'HEAD', 'OPTIONS']);
const METHODS = new Set(['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE']);

/**
 * Lets requests of our own page and of programs through, and none that another page has made a browser send. Stands before
 * everything that counts or costs. A browser tells whose page asks by `Sec-Fetch-Site`, and by `Origin` on every write.
 */
export const onlyOurPage: RequestHandler = (req, _res, next) => {
  if (!METHODS.has(req.method)) throw new Refusal(405, 'This server does not know this method');
  const site = req.headers['sec-fetch-site'];
  const read = READS.has(req.method);
  if (site !== undefined && site !== 'same-origin' && !(read && site === 'none')) {
    throw new Refusal(403, 'This server is used from its own page only');
  }
  const origin = req.headers.origin;
  if (origin !== undefined) {
    const there = URL.canParse(origin) ? new URL(origin) : undefined;
    if (
      !there ||
      there.host.toLowerCase() !==
        String(req.headers.host)
          .toLowerCase()
          .replace(/:(80|443)$/, (p) => (there.port ? p : ''))
    ) {
      throw new Refusal(403, 'This server is used from its own page only');
    }
  }
  const type = req.headers['content-type'] ?? '';
  // Neither is a type that another page can send without being asked whether it may.
  const content = BYTES[req.method]?.test(req.path) && /^application\/octet-stream$/i.test(type);
  if (!read && !content && (req.method !== 'DELETE' || hasBody(req.headers)) && !/^application\/json\s*(;|$)/i.test(type)) {
    throw new Refusal(415, 'A change is sent as JSON: content-type application/json');
  }
  next();
};

const hasBody = (h: Record<string, unknown>): boolean => h['transfer-encoding'] !== undefined || (h['content-length'] ?? '0') !== '0';

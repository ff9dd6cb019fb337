/** How long one person's saves take while another floods the server, beside quiet: 99 of 100 within (goal: 500 ms). */
import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { request } from 'node:http';
import mysql from 'mysql2/promise';
import { WebSocket } from 'ws';
import { emptyDesign } from '../../core/document/index';
import { row } from '../../core/testing/designs';
import { line } from '../measure';
import { call, root, served } from './served';

const SAVES = 150;
/** Requests of the flood that are under way at once. */
const AT_ONCE = 48;

/** Two people with a session each: the cookies. */
async function people(database: string): Promise<[string, string]> {
  const db = await mysql.createConnection({ uri: database, timezone: 'Z' });
  const cookies: string[] = [];
  for (const login of ['floods', 'saves']) {
    const [id, token, now] = [randomUUID(), randomBytes(32).toString('base64url'), new Date()];
    await db.query("INSERT INTO people (id, login, name, role, passphrase, created_at) VALUES (?, ?, ?, 'member', '', ?)", [id, login, login, now]);
    await db.query('INSERT INTO sessions (token_hash, person_id, created_at, seen_at) VALUES (?, ?, ?, ?)', [
      createHash('sha256').update(token).digest(),
      id,
      now,
      now,
    ]);
    cookies.push(`unirota=${token}`);
  }
  await db.end();
  return cookies as [string, string];
}

const create = (name: string, design: object = emptyDesign(name)): string => JSON.stringify({ save: randomUUID(), design });

/** Times of one person's saves one after the other, ms, sorted; how many were refused. */
async function saves(url: string, cookie: string): Promise<{ p50: number; p99: number; refused: number }> {
  const design = row(Array.from({ length: 20 }, () => [19, 23] as const)).design;
  const made = JSON.parse((await call(url, 'POST', '/api/designs', create('x', design), { cookie })).text) as { id: string; revision: number };
  const times: number[] = [];
  let refused = 0;
  for (let k = 0, base = 1; k < SAVES; k++) {
    const begun = performance.now();
    const body = JSON.stringify({ base, save: randomUUID(), design: { ...design, note: `edit ${k}` } });
    const r = await call(url, 'PUT', `/api/designs/${made.id}`, body, { cookie });
    times.push(performance.now() - begun);
    if (r.status === 200) base++;
    else refused++;
  }
  times.sort((a, b) => a - b);
  return { p50: times[SAVES >> 1], p99: times[Math.floor(0.99 * SAVES)], refused };
}

/** Keeps so many of one request under way until ended. */
function again(one: () => Promise<unknown>): () => void {
  let going = true;
  const loop = async (): Promise<void> => {
    while (going) await one().catch(() => new Promise((r) => setTimeout(r, 5)));
  };
  for (let k = 0; k < AT_ONCE; k++) void loop();
  return () => (going = false);
}

const FLOODS: readonly [string, (url: string, cookie: string) => () => void][] = [
  ['quiet', () => () => undefined],
  [
    'documents of 3 MiB that are not valid',
    (url, cookie) => {
      const members = Array.from({ length: 60_000 }, (_, i) => ({ id: i, kind: 7, note: 'not valid' }));
      const text = create('x', { ...emptyDesign('x'), members });
      return again(() => call(url, 'POST', '/api/designs', text, { cookie }));
    },
  ],
  [
    'searches without a hit',
    (url, cookie) => again(() => call(url, 'GET', `/api/designs?search=${randomUUID().slice(0, 8)}`, undefined, { cookie })),
  ],
  [
    'strength jobs',
    (url, cookie) =>
      again(() => call(url, 'POST', '/api/strength', JSON.stringify({ design: emptyDesign('x'), member: 'none', lines: [] }), { cookie })),
  ],
  [
    'sockets with long orders',
    (url, cookie) => {
      const time = Array.from({ length: 20_000 }, (_, i) => i / 10);
      const order = JSON.stringify({
        ...{ device: 'drive', limit: 10, constant: 1, inertia: 0.1, counts: 1000, slide: false, pace: 0, time, place: time },
        ...{ speed: time.map(() => 1), effort: time.map(() => 0), load: time.map(() => 0.1) },
      });
      return again(
        () =>
          new Promise<void>((resolve, reject) => {
            const ws = new WebSocket(`${url.replace('http', 'ws')}/api/stand-ins`, { headers: { cookie } });
            ws.on('open', () => ws.send(order));
            ws.on('close', () => resolve());
            ws.on('error', reject);
          }),
      );
    },
  ],
  [
    'uploads that are never finished',
    (url, cookie) => {
      const begun = Array.from({ length: 200 }, () => {
        const r = request(`${url}/api/designs`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', 'content-length': '8000000', cookie },
        });
        r.on('error', () => undefined);
        r.write('{"design":');
        return r;
      });
      return () => begun.forEach((r) => r.destroy());
    },
  ],
];

export async function floods(): Promise<void> {
  console.log(`\nOne person saves while another floods: half and 99 of 100 of ${SAVES} saves within (goal 500 ms)`);
  await served(
    root,
    async (url, database) => {
      const [floods, his] = await people(database);
      for (const [name, begin] of FLOODS) {
        const end = begin(url, floods);
        const m = await saves(url, his);
        end();
        line(`  ${name}`, `${m.p50.toFixed(0)} ms   ${m.p99.toFixed(0)} ms${m.refused ? `, ${m.refused} refused` : ''}`);
      }
    },
    { UNIROTA_ACCOUNTS: 'on' },
  );
}

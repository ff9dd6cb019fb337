/**
 * npm run bench:server [-- commit]: editors that save at the same time, on a real server and database. With a commit
 * also on that one's server, and the ratio of the two; the clients run on the same machine and take their share of it.
 */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateSync } from 'node:zlib';
import mysql from 'mysql2/promise';
import { row } from '../../core/testing/designs';
import { line } from '../measure';
import { floods } from './floods';
import { call, root, served } from './served';

const EVERY = 2000;

interface Load {
  editors: number;
  kib: number;
  seconds: number;
}
interface Measured {
  perSecond: number;
  p50: number;
  p95: number;
  p99: number;
  failed: number;
  blocked?: number;
}

/** A design of about so many KiB as JSON text, with a mark in it that stands for the edit. */
function textOfSize(kib: number): string {
  for (let n = 2; ; n += Math.max(1, Math.round(kib / 10))) {
    const design = row(Array.from({ length: n }, (_, k) => [19 + (k % 7), 23 + (k % 5)] as const)).design;
    design.note = '@EDIT@';
    const text = JSON.stringify(design);
    if (text.length >= kib * 1024) return text;
  }
}

async function measure(url: string, { editors, kib, seconds }: Load): Promise<Measured> {
  const text = textOfSize(kib);
  const edited = (k: number | string): string => text.replace('@EDIT@', `edit ${k}`);
  const made: string[] = [];
  for (let n = 0; n < editors; n++) {
    const r = await call(url, 'POST', '/api/designs', `{"save":"${randomUUID()}","design":${edited(0)}}`);
    if (r.status !== 201) throw new Error(`no design to begin with: ${r.status} ${r.text.slice(0, 300)}`);
    made.push((JSON.parse(r.text) as { id: string }).id);
  }
  const blockedNow = async (): Promise<number | undefined> => {
    const r = await call(url, 'GET', '/api/metrics');
    const lag = /^unirota_nodejs_eventloop_lag_max_seconds ([\d.e-]+)$/m.exec(r.text)?.[1];
    // The measure is the time between two looks, which are meant to be 10 ms apart.
    return lag === undefined ? undefined : Math.max(0, Number(lag) * 1000 - 10);
  };
  await blockedNow();
  const times: number[] = [];
  let failed = 0;
  const begin = Date.now();
  const end = begin + seconds * 1000;
  await Promise.all(
    made.map(async (id, n) => {
      let base = 1;
      // Each begins at a moment of its own, and goes on by the clock: who is answered late saves at once.
      for (let due = begin + (EVERY * n) / editors, k = 0; due < end; due += EVERY, k++) {
        await new Promise((r) => setTimeout(r, Math.max(0, due - Date.now())));
        const start = performance.now();
        const r = await call(url, 'PUT', `/api/designs/${id}`, `{"base":${base},"save":"${randomUUID()}","design":${edited(`${n} ${k}`)}}`).catch(
          () => undefined,
        );
        times.push(performance.now() - start);
        if (r?.status === 200) base = (JSON.parse(r.text) as { revision: number }).revision;
        else failed++;
        if (Date.now() > end + 10_000) break;
      }
    }),
  );
  const took = (Date.now() - begin) / 1000;
  times.sort((a, b) => a - b);
  const at = (p: number): number => times[Math.min(times.length - 1, Math.floor(p * times.length))];
  return { perSecond: (times.length - failed) / took, p50: at(0.5), p95: at(0.95), p99: at(0.99), failed, blocked: await blockedNow() };
}

/** The tree of another commit, with the packages of this one. */
function treeOf(commit: string): string {
  const folder = mkdtempSync(join(tmpdir(), `unirota-tree-${process.pid}-`));
  execFileSync('sh', ['-c', `git archive ${commit} | tar -x -C ${folder}`], { cwd: root });
  mkdirSync(join(folder, 'node_modules/@unirota'), { recursive: true });
  for (const name of readdirSync(join(root, 'node_modules'))) {
    if (name !== '@unirota') symlinkSync(join(root, 'node_modules', name), join(folder, 'node_modules', name));
  }
  for (const name of ['core', 'contract', 'server', 'web']) symlinkSync(join(folder, name), join(folder, 'node_modules/@unirota', name));
  return folder;
}

/** Time to answer the first page of the list when there are so many designs, ms (median). */
async function listing(url: string, database: string, count: number): Promise<{ ms: number; bytes: number }> {
  const db = await mysql.createConnection({ uri: database, timezone: 'Z' });
  const body = deflateSync('{}');
  const sketch = JSON.stringify({ box: [0, 0, 100, 60], curves: [{ kind: 'gear', path: `M0 0l${'1.5 2.5 '.repeat(700)}Z` }] });
  for (let from = 0; from < count; from += 500) {
    const ids = Array.from({ length: 500 }, () => randomUUID());
    const at = (k: number): Date => new Date(Date.now() - 1000 * (from + k));
    await db.query('INSERT INTO designs (id, name, revision, created_at, saved_at, last_number, key_number, sketch, sketch_revision) VALUES ?', [
      ids.map((id, k) => [id, `Design ${((from + k) * 7919) % count}`, 1, at(k), at(k), 1, 1, sketch, 1]),
    ]);
    await db.query('INSERT INTO revisions (design_id, number, save_id, name, body, size, saved_at) VALUES ?', [
      ids.map((id, k) => [id, 1, randomUUID(), 'x', body, 2, at(k)]),
    ]);
  }
  await db.end();
  const times: number[] = [];
  let bytes = 0;
  for (let k = 0; k < 60; k++) {
    const start = performance.now();
    bytes = (await call(url, 'GET', `/api/designs?order=${['saved', 'created', 'name'][k % 3]}`)).text.length;
    times.push(performance.now() - start);
  }
  return { ms: times.sort((a, b) => a - b)[times.length >> 1], bytes };
}

const loads: Load[] = [
  { editors: 40, kib: 158, seconds: 20 },
  { editors: 200, kib: 8, seconds: 20 },
];
const commit = process.argv[2];
const before = commit ? treeOf(commit) : undefined;
for (const load of loads) {
  console.log(`\n${load.editors} editors, each saving ${load.kib} KiB every 2 s`);
  const now = await served(root, (url) => measure(url, load));
  const old = before ? await served(before, (url) => measure(url, load)) : undefined;
  for (const [label, key, unit] of [
    ['saves answered in a second', 'perSecond', '/s'],
    ['median', 'p50', ' ms'],
    ['95 of 100 within', 'p95', ' ms'],
    ['99 of 100 within', 'p99', ' ms'],
    ['not answered, or refused', 'failed', ''],
    ['event loop of the server blocked at most', 'blocked', ' ms'],
  ] as const) {
    const [a, b] = [now[key], old?.[key]];
    const shown = (x: number | undefined): string => (x === undefined ? '–' : `${x.toFixed(key === 'failed' ? 0 : 1)}${unit}`);
    line(`  ${label}`, `${shown(a)}${old ? `   ${commit.slice(0, 7)}: ${shown(b)}${a && b ? `, ratio ${(a / b).toFixed(2)}` : ''}` : ''}`);
  }
}
const list = await served(root, (url, database) => listing(url, database, 5000));
console.log('\nThe list of 5 000 designs');
line('  first page (limit 50 ms, 100 KB)', `${list.ms.toFixed(1)} ms, ${(list.bytes / 1000).toFixed(0)} KB`);
await floods();
if (before) rmSync(before, { recursive: true, force: true });
process.exit(0);

import { execFileSync, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { type Design, emptyDesign } from '@unirota/core/document';
import { NewerSchema, migrate, newestVersion } from '../src/database/migrate';
import { type OwnDatabase, Site, ownDatabase } from './site';

const root = fileURLToPath(new URL('../../', import.meta.url));
const create = async (site: Site, design: Design = emptyDesign('Weir hoist')): Promise<string> =>
  (await site.call('POST', '/api/designs', { design, save: randomUUID() })).body.id;
const save = (site: Site, id: string, base: number, design = emptyDesign(`Revision ${base + 1}`), token = randomUUID()) =>
  site.call('PUT', `/api/designs/${id}`, { base, save: token, design });

describe('the private database', () => {
  let own: OwnDatabase;
  beforeAll(async () => void (own = await ownDatabase()));
  afterAll(() => own?.stop());

  it('has one account, with a secret and rights on its own database alone', async () => {
    const db = await mysql.createConnection(own.url);
    const [grants] = await db.query<any[]>('SHOW GRANTS');
    const text = grants.map((g) => Object.values(g)[0]).join('\n');
    expect(text).toMatch(/GRANT USAGE ON \*\.\* TO `unirota`@`127\.0\.0\.1` IDENTIFIED BY PASSWORD/);
    expect(text.match(/ ON /g)).toHaveLength(2);
    await expect(db.query('SELECT * FROM mysql.global_priv')).rejects.toThrow(/denied/);
    await expect(db.query("SELECT 'x' INTO OUTFILE '/tmp/unirota-test-outfile'")).rejects.toThrow(/denied|secure/);
    await expect(db.query("SELECT LOAD_FILE('/etc/passwd') AS f").then(([r]) => (r as any)[0].f)).resolves.toBeNull();
    const [vars] = await db.query<any[]>("SHOW VARIABLES WHERE variable_name IN ('secure_file_priv', 'local_infile', 'bind_address')");
    const set = Object.fromEntries(vars.map((v) => [v.Variable_name, v.Value]));
    expect(set).toMatchObject({ local_infile: 'OFF', bind_address: '127.0.0.1' });
    expect(set.secure_file_priv).toContain(own.folder);
    await db.end();
    for (const [user, password] of [
      ['root', ''],
      ['', ''],
      ['mysql', ''],
      ['unirota', ''],
      ['unirota', 'unirota'],
      ['mariadb.sys', ''],
    ]) {
      await expect(mysql.createConnection({ host: '127.0.0.1', port: own.port, user, password })).rejects.toThrow(/denied|locked/i);
    }
  });

  it('is reached by no other user of the machine: neither by files nor by socket nor over loopback', () => {
    const folder = own.folder;
    for (const f of ['mariadb', 'run']) expect(statSync(join(folder, f)).mode & 0o077).toBe(0);
    expect(statSync(join(folder, 'secret')).mode & 0o077).toBe(0);
    if (process.getuid!() !== 0) return;
    // Nobody: the account of whoever has none.
    const asNobody = (...command: string[]): string => {
      try {
        return execFileSync(command[0], command.slice(1), { uid: 65_534, gid: 65_534, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
      } catch (e) {
        return `refused: ${(e as { stderr: string }).stderr}`;
      }
    };
    for (const path of [join(folder, 'secret'), join(folder, 'mariadb'), join(folder, 'run')]) expect(asNobody('ls', path)).toMatch(/^refused/);
    expect(asNobody('mariadb', `--socket=${join(folder, 'run/db.sock')}`, '-uroot', '-e', 'SELECT 1')).toMatch(/^refused/);
    expect(asNobody('mariadb', '--protocol=tcp', `--port=${own.port}`, '-h127.0.0.1', '-uroot', '-e', 'SELECT 1')).toMatch(/^refused.*denied/s);
    const mine = execFileSync('ps', ['-o', 'user=', '-p', String(own.pid)], { encoding: 'utf8' }).trim();
    expect(mine).toBe('mysql');
  });
});

describe('with a busy, slow or dead database', () => {
  let own: OwnDatabase, site: Site;
  beforeAll(async () => {
    own = await ownDatabase();
    site = await Site.open(own.url, {}, { database: { statementTime: 2500, lockTime: 1, queueTime: 1500, connections: 8 } });
  });
  afterAll(async () => {
    await site?.close();
    await own?.stop();
  });

  it('a save behind a locked row is answered 503 with when to try again; reading goes on meanwhile', async () => {
    const id = await create(site);
    const holder = await mysql.createConnection(own.url);
    await holder.beginTransaction();
    await holder.query('SELECT * FROM designs WHERE id = ? FOR UPDATE', [id]);
    const saves = Array.from({ length: 12 }, () => save(site, id, 1));
    // As long as the saves wait, others read.
    let waiting = true;
    void Promise.race(saves).then(() => (waiting = false));
    let reads = 0;
    for (; waiting; reads++) expect((await site.call('GET', reads % 20 ? `/api/designs/${id}` : '/api/designs')).status).toBe(200);
    expect(reads).toBeGreaterThan(20);
    for (const r of await Promise.all(saves)) {
      expect(r.status).toBe(503);
      expect(Number(r.headers.get('retry-after'))).toBeGreaterThan(0);
    }
    await holder.rollback();
    await holder.end();
    expect((await save(site, id, 1)).body.revision).toBe(2);
  });

  it('transactions that lock each other out are done again until both are done', async () => {
    const ids = [await create(site), await create(site)];
    // Neither takes the second before both have taken their first.
    let had = 0,
      meet: () => void;
    const met = new Promise<void>((r) => (meet = r));
    const both = async (first: string, second: string): Promise<void> =>
      site.database.transaction(async (s) => {
        await s.change('UPDATE designs SET thinned_at = NOW(3) WHERE id = :first', { first });
        if (++had === 2) meet();
        await met;
        await s.change('UPDATE designs SET thinned_at = NOW(3) WHERE id = :second', { second });
      });
    await Promise.all([both(ids[0], ids[1]), both(ids[1], ids[0])]);
  });

  it('one that hangs is given up with 503; when it goes on, all goes on', async () => {
    const id = await create(site);
    process.kill(own.pid, 'SIGSTOP');
    try {
      const start = Date.now();
      const answers = await Promise.all([
        site.call('GET', `/api/designs/${id}`),
        save(site, id, 1),
        site.call('GET', '/api/ready'),
        site.call('GET', '/api/live'),
      ]);
      expect(answers.map((r) => r.status)).toEqual([503, 503, 503, 200]);
      expect(Number(answers[1].headers.get('retry-after'))).toBeGreaterThan(0);
      // A few times what the server allows a database: the answers come, whatever the machine is busy with.
      expect(Date.now() - start).toBeLessThan(30_000);
    } finally {
      process.kill(own.pid, 'SIGCONT');
    }
    await vi.waitFor(async () => expect((await site.call('GET', '/api/ready')).status).toBe(200), { timeout: 30_000, interval: 100 });
    const now = (await site.call('GET', `/api/designs/${id}`)).body.revision;
    expect((await save(site, id, now)).body.revision).toBe(now + 1);
  }, 60_000);

  it('the same save at the very same time gives the same answer, in 60 rounds of 60', async () => {
    const other = await Site.open(own.url);
    const id = await create(site);
    for (let k = 1; k <= 60; k++) {
      const token = randomUUID();
      const [a, b] = await Promise.all([save(site, id, k, emptyDesign(`r${k}`), token), save(other, id, k, emptyDesign(`r${k}`), token)]);
      expect([a.status, b.status, b.body]).toEqual([200, 200, a.body]);
      expect(a.body.revision).toBe(k + 1);
      const copy = randomUUID();
      const [c, d] = await Promise.all([site, other].map((s) => s.call('POST', `/api/designs/${id}/copy`, { save: copy })));
      expect([c.status, d.body.id]).toEqual([201, c.body.id]);
    }
    await other.close();
  }, 60_000);
});

describe('a full disk', () => {
  it('is said with 507, loses nothing, and what was there can be read', async () => {
    // A table space that may not grow stands for a disk that is full.
    const own = await ownDatabase(['--innodb-file-per-table=0', '--innodb-data-file-path=ibdata1:12M;ibdata2:16M']);
    const site = await Site.open(own.url);
    try {
      const noise = (n: number): Design => ({
        ...emptyDesign(`Large ${n}`),
        note: Array.from({ length: 19_000 }, () => String.fromCharCode(0x4e00 + Math.random() * 20_000)).join(''),
      });
      const id = await create(site);
      const acknowledged = new Map<number, string>();
      let full: Awaited<ReturnType<typeof save>> | undefined;
      let base = 1;
      for (let k = 0; k < 3000 && !full; k++) {
        const design = noise(k);
        const r = await save(site, id, base, design);
        if (r.status === 200) {
          base = r.body.revision;
          acknowledged.set(base, design.name);
        } else full = r;
      }
      expect(full?.status, full?.text).toBe(507);
      expect(full!.body.title).toMatch(/disk of the server is full/);
      expect(Number(full!.headers.get('retry-after'))).toBeGreaterThan(0);
      expect((await site.call('GET', `/api/designs/${id}`)).body.design.name).toBe(acknowledged.get(base));
      for (const n of [2, base >> 1, base]) {
        if (acknowledged.has(n)) expect((await site.call('GET', `/api/designs/${id}/revisions/${n}`)).body.design.name).toBe(acknowledged.get(n));
      }
    } finally {
      await site.close();
      await own.stop();
    }
  }, 120_000);
});

describe('migrations', () => {
  let own: OwnDatabase;
  beforeAll(async () => void (own = await ownDatabase()));
  afterAll(() => own?.stop());
  const fresh = async (): Promise<mysql.Connection> => {
    const db = await mysql.createConnection({ uri: own.url, multipleStatements: true });
    await db.query('DROP DATABASE unirota; CREATE DATABASE unirota CHARACTER SET utf8mb4; USE unirota');
    return db;
  };
  /** A whole server of its own process; gives its port, or how it ended. */
  const serve = (env: Record<string, string> = {}): Promise<{ kill(): void; code?: number | null; said: string }> =>
    new Promise((resolve) => {
      const child = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
        cwd: root,
        stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
        env: {
          ...process.env,
          UNIROTA_DATABASE: own.url,
          UNIROTA_PORT: '0',
          UNIROTA_WORKERS: '1',
          ...env,
        },
      });
      let said = '';
      child.stderr!.on('data', (d) => (said += d));
      const kill = (): void => void child.kill('SIGKILL');
      child.once('message', () => resolve({ kill, said }));
      child.once('exit', (code) => resolve({ kill, code, said }));
    });

  it('let three servers that start at once on an empty database all come up, ten times, with each demo once', async () => {
    for (let round = 0; round < 10; round++) {
      const db = await fresh();
      const three = await Promise.all([serve(), serve(), serve()]);
      for (const s of three) expect([s.code, s.said]).toEqual([undefined, '']);
      const [[{ n, names }]] = (await db.query<any[]>('SELECT COUNT(*) AS n, COUNT(DISTINCT name) AS names FROM designs')) as any;
      expect([n, names]).toEqual([8, 8]);
      three.forEach((s) => s.kill());
      await db.end();
    }
  }, 480_000);

  it('finish what was half done, whatever half', async () => {
    for (const half of [
      'CREATE TABLE designs (id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, name VARCHAR(120) NOT NULL, revision INT UNSIGNED NOT NULL, created_at DATETIME(3) NOT NULL, saved_at DATETIME(3) NOT NULL, deleted_at DATETIME(3) NULL) ENGINE = InnoDB DEFAULT CHARSET utf8mb4 COLLATE utf8mb4_unicode_ci',
    ]) {
      const db = await fresh();
      await db.query(half);
      expect(await migrate(own.url)).toBe(newestVersion());
      await db.query('ALTER TABLE designs DROP COLUMN key_number; DELETE FROM schema_versions WHERE version >= 2');
      expect(await migrate(own.url)).toBe(newestVersion());
      await db.query('DROP TABLE audit; DELETE FROM schema_versions WHERE version >= 3');
      expect(await migrate(own.url)).toBe(newestVersion());
      const site = await Site.open(own.url);
      expect((await save(site, await create(site), 1)).body.revision).toBe(2);
      await site.close();
      await db.end();
    }
  });

  it('bring designs of the first schema over, text for text', async () => {
    const db = await fresh();
    await db.query(`CREATE TABLE designs (id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, name VARCHAR(120) NOT NULL, revision INT UNSIGNED NOT NULL,
        created_at DATETIME(3) NOT NULL, saved_at DATETIME(3) NOT NULL, deleted_at DATETIME(3) NULL, KEY by_list (deleted_at, saved_at)) ENGINE = InnoDB DEFAULT CHARSET utf8mb4 COLLATE utf8mb4_unicode_ci;
      CREATE TABLE revisions (design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, number INT UNSIGNED NOT NULL, save_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
        name VARCHAR(120) NOT NULL, document LONGTEXT NOT NULL, sketch MEDIUMTEXT NOT NULL, saved_at DATETIME(3) NOT NULL, PRIMARY KEY (design_id, number), UNIQUE KEY one_save (save_id),
        CONSTRAINT revision_of FOREIGN KEY (design_id) REFERENCES designs (id)) ENGINE = InnoDB DEFAULT CHARSET utf8mb4 COLLATE utf8mb4_unicode_ci`);
    const id = randomUUID();
    const designs = [1, 2, 3].map((n) => ({ ...emptyDesign(`Old ${n}`), note: 'ünïcode ½ 🛶 '.repeat(n * 300) }));
    await db.query('INSERT INTO designs VALUES (?, ?, 3, NOW(3), NOW(3), NULL)', [id, 'Old 3']);
    for (const [k, d] of designs.entries()) {
      await db.query('INSERT INTO revisions VALUES (?, ?, ?, ?, ?, ?, NOW(3))', [id, k + 1, randomUUID(), d.name, JSON.stringify(d), '{}']);
    }
    const site = await Site.open(own.url);
    for (const [k, d] of designs.entries()) expect((await site.call('GET', `/api/designs/${id}/revisions/${k + 1}`)).body.design).toEqual(d);
    expect((await save(site, id, 3)).body.revision).toBe(4);
    expect((await site.call('GET', '/api/designs')).body.designs[0].name).toBe('Revision 4');
    await site.close();
    await db.end();
  });

  it('of a newer program are left alone, and the older one says so and ends', async () => {
    const db = await fresh();
    await migrate(own.url);
    await db.query("INSERT INTO schema_versions (version, name, md5, run_at) VALUES (?, 'later', '', NOW())", [newestVersion() + 1]);
    await expect(migrate(own.url)).rejects.toThrow(NewerSchema);
    const old = await serve();
    expect(old.code).toBe(4);
    expect(old.said).toMatch(/newer than this program knows .* start a newer Unirota on it/);
    await db.end();
  });

  it('a database with people is not served to whoever comes', async () => {
    const db = await fresh();
    await migrate(own.url);
    await db.query("INSERT INTO people VALUES (?, 'ada', 'Ada Brook', 'administrator', 'x', NOW(3), NULL)", [randomUUID()]);
    const open = await serve();
    expect([open.code, /start with UNIROTA_ACCOUNTS=on/.test(open.said)]).toEqual([2, true]);
    const wrong = await serve({ UNIROTA_HOST: '0.0.0.0' });
    expect([wrong.code, /Set UNIROTA_ACCOUNTS=on/.test(wrong.said)]).toEqual([2, true]);
    await db.end();
  });
});

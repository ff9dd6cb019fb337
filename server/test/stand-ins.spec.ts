import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import type { DriveOrder, DriveReadings, SensorOrder, SensorReadings, StandInWord } from '@unirota/contract/stand-ins';
import { StandInDrive } from '../src/stand-ins/drive';
import { StandInSensor } from '../src/stand-ins/sensor';
import { type OwnDatabase, Site, ownDatabase } from './site';

const TURN = 2 * Math.PI;
/** A drive that is set speeds (rad/s) at times, against a load that is the same everywhere. */
function order(speeds: [number, number][], effort: number, more: Partial<DriveOrder> = {}): DriveOrder {
  const time = speeds.map(([t]) => t),
    speed = speeds.map(([, v]) => v);
  let angle = 0;
  const place = speeds.map(([t, v], i) => (i ? (angle += ((t - time[i - 1]) * (v + speed[i - 1])) / 2) : 0));
  return {
    device: 'drive',
    limit: 10,
    constant: 0.5,
    inertia: 0.01,
    counts: 1000,
    slide: false,
    pace: 0,
    time,
    place,
    speed,
    effort: time.map(() => effort),
    load: time.map(() => 0.04),
    ...more,
  };
}
const played = (o: DriveOrder): DriveReadings => new StandInDrive(o).until(1e9);
const J = 0.05;

describe('the stand-in drive', () => {
  it('speeds its load up no faster than its current limit lets it: k·I / J', () => {
    const r = played(
      order(
        [
          [0, 0],
          [0.001, 80],
          [2, 80],
        ],
        0,
      ),
    );
    const most = (10 * 0.5) / J;
    const i = r.time.findIndex((t) => t >= 0.5);
    expect(r.speed[i] / (most * r.time[i])).toBeCloseTo(1, 2);
    expect(Math.max(...r.current)).toBe(10);
    expect(r.speed.at(-1)).toBeCloseTo(80, 1);
  });

  it('gives the load’s torque at an even speed, by its current, and counts what it turns', () => {
    const r = played(
      order(
        [
          [0, 20],
          [5, 20],
        ],
        3,
      ),
    );
    expect(r.effort.at(-1)).toBeCloseTo(3, 6);
    expect(r.current.at(-1)).toBeCloseTo(6, 6);
    expect(Math.abs(r.counts.at(-1)! - (r.time.at(-1)! * 20 * 1000) / TURN)).toBeLessThan(2);
    expect(r.counts.every(Number.isInteger)).toBe(true);
  });

  it('follows a ramp without a lag in the end, as an integral part in front of an inertia does, and gives the load’s torque and J·α', () => {
    const r = played(
      order(
        [
          [0, 0],
          [4, 40],
        ],
        1,
      ),
    );
    const i = r.time.findIndex((t) => t >= 3);
    expect(10 * r.time[i] - r.speed[i]).toBeCloseTo(0, 6);
    // What speeds it up comes on top of the load.
    expect(r.effort[i]).toBeCloseTo(1 + J * 10, 2);
  });

  it('stalls against more than it has, and says what it takes', () => {
    const r = played(
      order(
        [
          [0, 10],
          [1, 10],
        ],
        8,
      ),
    );
    expect(r.speed.at(-1)).toBeLessThan(0);
    expect(r.current.at(-1)).toBe(10);
  });

  it('gives the same however it is asked for it: in one piece or in many, and no more than can be drawn', () => {
    const o = order(
      [
        [0, 0],
        [3, 30],
        [6, -10],
        [60, 0],
      ],
      0.5,
    );
    const whole = played(o);
    const drive = new StandInDrive(o);
    const pieces = Array.from({ length: 700 }, (_, k) => drive.until((k + 1) / 10));
    expect(pieces.flatMap((p) => p.counts)).toEqual(whole.counts);
    expect(whole.time.length).toBeLessThanOrEqual(2001);
    expect(whole.time.at(-1)).toBeGreaterThan(59.9);
  });
});

describe('the stand-in sensor', () => {
  const sensor: SensorOrder = { device: 'sensor', rate: 100, resolution: 0.5, noise: 0, missing: 0, pace: 0, time: [0, 10], value: [0, 20] };
  it('reads at its rate, in steps of its resolution, no farther off than half a step', () => {
    const r = new StandInSensor(sensor).until(1e9);
    expect(r.time).toHaveLength(1001);
    r.value.forEach((v, i) => {
      expect(v! % 0.5).toBe(0);
      expect(Math.abs(v! - 2 * r.time[i])).toBeLessThanOrEqual(0.25 + 1e-9);
    });
  });
  it('scatters by its noise and fails as often as stated, the same each time', () => {
    const noisy = { ...sensor, resolution: 0, noise: 0.3, missing: 10, value: [5, 5], time: [0, 100] };
    const r = new StandInSensor(noisy).until(1e9);
    const there = r.value.filter((v) => v !== null);
    expect(there.length / r.value.length).toBeCloseTo(0.9, 1);
    const mean = there.reduce((s, v) => s + v, 0) / there.length;
    expect(mean).toBeCloseTo(5, 1);
    expect(Math.sqrt(there.reduce((s, v) => s + (v - mean) ** 2, 0) / there.length)).toBeCloseTo(0.3, 1);
    expect(new StandInSensor(noisy).until(1e9)).toEqual(r);
  });
});

describe('the stand-ins behind their socket', () => {
  let own: OwnDatabase, site: Site, team: Site;
  beforeAll(async () => {
    own = await ownDatabase();
    site = await Site.open(own.url);
    team = await Site.open(own.url, { accounts: true });
  });
  afterAll(async () => {
    await site?.close();
    await team?.close();
    await own?.stop();
  });
  const open = (path = '/api/stand-ins', options = {}, at = site): WebSocket => new WebSocket(`${at.url.replace('http', 'ws')}${path}`, options);
  const refusal = (ws: WebSocket): Promise<number | undefined> =>
    new Promise((resolve) => {
      ws.on('error', () => undefined);
      ws.on('unexpected-response', (_req, res) => resolve(res.statusCode));
    });
  function talk<R>(what: unknown): Promise<StandInWord<R>[]> {
    const ws = open();
    const heard: StandInWord<R>[] = [];
    ws.on('open', () => ws.send(typeof what === 'string' ? what : JSON.stringify(what)));
    ws.on('message', (d: Buffer) => heard.push(JSON.parse(d.toString()) as StandInWord<R>));
    return new Promise((resolve, reject) => {
      ws.on('close', () => resolve(heard));
      ws.on('error', reject);
    });
  }
  const ramp = order(
    [
      [0, 0],
      [1, 10],
    ],
    1,
  );

  it('play an order to its end, in step with the clock where it is asked for', async () => {
    const fast = await talk<DriveReadings>(ramp);
    expect(fast.at(-1)).toEqual({ end: true });
    const begun = Date.now();
    const slow = await talk<DriveReadings>({ ...ramp, pace: 2 });
    expect(Date.now() - begun).toBeGreaterThan(450);
    const counts = (w: StandInWord<DriveReadings>[]): number[] => w.flatMap((x) => ('readings' in x ? x.readings.counts : []));
    expect(counts(slow)).toEqual(counts(fast));
    const sensed = await talk<SensorReadings>({
      device: 'sensor',
      rate: 10,
      resolution: 0,
      noise: 0,
      missing: 0,
      pace: 0,
      time: [0, 1],
      value: [0, 1],
    });
    expect(sensed.flatMap((x) => ('readings' in x ? x.readings.time : []))).toHaveLength(11);
  });
  it('say what is wrong with an order', async () => {
    expect(await talk('{')).toEqual([{ problem: 'The order is not JSON' }]);
    expect(await talk({ device: 'lathe' })).toEqual([{ problem: expect.stringContaining('no device') }]);
    expect(await talk({ ...ramp, limit: 0 })).toEqual([{ problem: expect.stringContaining('Current limit') }]);
    expect(await talk({ ...ramp, time: [0, 1, 2] })).toEqual([{ problem: expect.stringContaining('one length') }]);
    expect(await talk({ ...ramp, pace: 0.01 })).toEqual([{ problem: 'pace must be 0 or at least 1' }]);
    expect(await talk({ ...ramp, time: [1, 0] })).toEqual([{ problem: 'The times must rise' }]);
    expect(await talk({ ...ramp, time: [0, 1e6] })).toEqual([{ problem: expect.stringContaining('60 minutes') }]);
  });
  it('answer our own page and programs of the machine alone', async () => {
    expect(await refusal(open('/api/designs'))).toBe(404);
    expect(await refusal(open(undefined, { headers: { origin: 'http://elsewhere.example' } }))).toBe(403);
    expect(await refusal(open(undefined, { headers: { host: 'elsewhere.example' } }))).toBe(421);
    expect(await refusal(open(undefined, {}, team))).toBe(401);
  });
  it('are few: the fourth of one person at once is told to wait', async () => {
    const three = Array.from({ length: 3 }, () => open());
    await Promise.all(three.map((ws) => new Promise((r) => ws.once('open', r))));
    expect(await refusal(open())).toBe(503);
    three.forEach((ws) => ws.terminate());
  });
});

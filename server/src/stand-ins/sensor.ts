import type { SensorOrder, SensorReadings } from '@unirota/contract/stand-ins';

/** Numbers that look random and are the same each time (mulberry32). */
function scatter(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
const MOST = 20_000;

/**
 * The stand-in for a sensor: reads a quantity at its rate, with
 * noise, in steps of its resolution, and now and then not at all.
 */
export class StandInSensor {
  readonly duration: number;
  private readonly random = scatter(1);
  private readonly every: number;
  private taken = 0;
  private index = 0;

  constructor(private readonly order: SensorOrder) {
    this.duration = order.time[order.time.length - 1] - order.time[0];
    this.every = Math.max(1 / order.rate, this.duration / (MOST - 1));
  }

  until(until: number): SensorReadings {
    const { time, value, noise, resolution, missing } = this.order;
    const out: SensorReadings = { time: [], value: [] };
    for (; this.taken * this.every <= Math.min(until, this.duration) + 1e-9; this.taken++) {
      const t = time[0] + this.taken * this.every;
      while (this.index < time.length - 2 && time[this.index + 1] <= t) this.index++;
      const i = this.index;
      const share = time[i + 1] > time[i] ? Math.min(1, (t - time[i]) / (time[i + 1] - time[i])) : 0;
      const fails = this.random() * 100 < missing;
      // Box and Muller.
      const spread = noise * Math.sqrt(-2 * Math.log(1 - this.random())) * Math.cos(2 * Math.PI * this.random());
      const read = value[i] + share * (value[i + 1] - value[i]) + spread;
      out.time.push(Number((t - time[0]).toFixed(6)));
      out.value.push(fails ? null : resolution > 0 ? Number((Math.round(read / resolution) * resolution).toPrecision(12)) : read);
    }
    return out;
  }
}

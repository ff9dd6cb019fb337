import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import { WorkerClient } from './worker-client';

/** A worker that never answers, and can break. */
class Silent extends EventTarget {
  terminated = false;
  postMessage(): void {
    // Nothing comes of it.
  }
  terminate(): void {
    this.terminated = true;
  }
  break(): void {
    this.dispatchEvent(Object.assign(new Event('error'), { message: 'out of memory' }));
  }
}
interface Api {
  work(): number;
}

describe('a worker', () => {
  it('is made when it is needed; what it was asked fails when it breaks or is let go, and the next has a new one', async () => {
    const made: Silent[] = [];
    const hired = new WorkerClient<Api>(() => {
      made.push(new Silent());
      return made.at(-1) as unknown as Worker;
    });
    expect(made).toHaveLength(0);
    const first = hired.call((api) => api.work() as Promise<number>);
    void hired.call((api) => api.work() as Promise<number>).catch(() => undefined);
    expect(made).toHaveLength(1);
    made[0].break();
    await expect(first).rejects.toThrow('out of memory');
    expect(made[0].terminated).toBe(true);
    const second = hired.call((api) => api.work() as Promise<number>);
    expect(made).toHaveLength(2);
    // What the first says after its end concerns nobody.
    made[0].break();
    hired.close('ended by the person');
    await expect(second).rejects.toThrow('ended by the person');
    hired.close();
  });
});

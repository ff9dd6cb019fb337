import { expose, transfer } from 'comlink';
import { Runner, type RunResult, compile, poseOf, runBuffers } from '@unirota/core';
import type { Design } from '@unirota/core/document';

export interface RunRequest {
  /** s, and instants recorded. */
  duration: number;
  frames: number;
  /** Sources let go: what moves then moves by weight and loads alone. */
  letGo: boolean;
  /** Where it starts: all coordinates, rad or m. */
  from: Float64Array;
}

let ended = false;
/** How long it computes before it looks whether it is to end, ms. */
const TURN = 30;

const api = {
  /** Computes a run; says how far it has come. Ended early it gives the frames that there are. */
  async run(design: Design, request: RunRequest, report: (done: number) => void): Promise<RunResult> {
    ended = false;
    const c = compile(request.letGo ? { ...design, sources: [] } : design);
    const pose = poseOf(c);
    const all = Array.from(request.from, (_, i) => i);
    const starts = request.from.length === pose.kinematics.count && pose.solve(all, request.from) === 'ok';
    const runner = new Runner(c, request, starts ? pose.u : undefined);
    for (let since = performance.now(); !ended && runner.step();) {
      if (performance.now() - since < TURN) continue;
      report(runner.progress);
      // Lets messages in.
      await new Promise((r) => setTimeout(r));
      since = performance.now();
    }
    if (ended) runner.endHere();
    return transfer(runner.result, runBuffers(runner.result));
  },
  end(): void {
    ended = true;
  },
};
export type RunApi = typeof api;
expose(api);

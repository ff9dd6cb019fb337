import { expose, transfer } from 'comlink';
import { type MovedFree, Runner, type RunResult, movedFree, planRun, runBuffers } from '@unirota/core';
import type { Design, KeptRun } from '@unirota/core/document';
import { holdContents } from './held-contents';

/** What came of a run. */
export interface RunAnswer {
  readonly result: RunResult;
  /** What could not be done as stated. */
  readonly said: readonly string[];
  /** What moved though nothing led it. */
  readonly moved: readonly MovedFree[];
  /** False where a person ended it before it was over. */
  readonly whole: boolean;
}

let ended = false;
/** How long it computes before it looks whether it is to end, ms. */
const TURN = 30;
/** ms */
const WARMING = 250;

const api = {
  /**
   * Computes a run; says how far it has come and where the train then
   * is (rad, m). Ended early it gives the frames that there are.
   */
  async run(design: Design, kept: KeptRun, report: (done: number, at: Float64Array) => void): Promise<RunAnswer> {
    ended = false;
    await holdContents(design);
    const { compiled, options, start, said } = planRun(design, kept);
    const runner = new Runner(compiled, options, start);
    let on = true;
    for (let since = performance.now(); !ended && (on = runner.step());) {
      if (performance.now() - since < TURN) continue;
      report(runner.progress, Float64Array.from(runner.train.pose.q));
      // Lets messages in.
      await new Promise((r) => setTimeout(r));
      since = performance.now();
    }
    if (on) runner.endHere();
    const { result } = runner;
    return transfer({ result, said, moved: movedFree(compiled, result), whole: !on }, runBuffers(result));
  },
  /** Computes a little of a run for nothing: the first that is asked for is then as quick as the next. */
  warm(design: Design): void {
    const { compiled, options, start } = planRun(design, { id: '', name: '', frames: 40, duration: 1 });
    const runner = new Runner(compiled, options, start);
    const until = performance.now() + WARMING;
    while (performance.now() < until && runner.step());
  },
  end(): void {
    ended = true;
  },
};
export type RunApi = typeof api;
expose(api);

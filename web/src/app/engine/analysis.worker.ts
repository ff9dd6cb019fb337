import { expose } from 'comlink';
import {
  type RunResult,
  type ShaftEnvelope,
  type Snapshot,
  compileRun,
  shaftEnvelope,
  type Sweep,
  type WantedResult,
  analyse,
  compile,
  inCase,
  ledger,
  ready,
  sweep,
} from '@unirota/core';
import type { Design, Id, KeptRun } from '@unirota/core/document';
import { holdContents } from './held-contents';
import { readLog, thinnedTo } from '@unirota/core/formats';

/** The way of which source of a design. */
export interface WayQuestion {
  readonly design: Design;
  readonly source: number;
}

const api = {
  async analyse(design: Design): Promise<Snapshot> {
    await holdContents(design);
    // What moves the train on has functions in it and stays here: the page makes its own.
    const { compiled: _c, pose: _p, forces: _f, ...values } = analyse(design);
    return values;
  },
  /** Wanted outputs as stated and in each load case, in the order of the design. */
  cases(design: Design): WantedResult[][] {
    return [undefined, ...(design.cases ?? []).map((c) => c.id)].map((id) => {
      const { pose, forces } = ready(inCase(design, id));
      return ledger(pose, forces).wanted;
    });
  },
  /** The largest along a shaft over a run. */
  envelope: (design: Design, kept: KeptRun, result: RunResult, member: Id): ShaftEnvelope | undefined =>
    shaftEnvelope(compileRun(design, kept), result, member),
  readLog,
  thinned: thinnedTo,
  async sweep({ design, source }: WayQuestion): Promise<Sweep | undefined> {
    await holdContents(design);
    return sweep(compile(design), undefined, source);
  },
};
export type AnalysisApi = typeof api;
expose(api);

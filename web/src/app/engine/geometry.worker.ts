import { expose } from 'comlink';
import { type RunResult, compile, poseOf } from '@unirota/core';
import { boxOf, memberMotion } from '@unirota/core/assembly';
import type { Design } from '@unirota/core/document';
import { type Geometry, type GeometryOptions, NothingToWrite, geometryOf, loadKernel, sheets } from '@unirota/solids';
import { areaOf } from '@unirota/core/solids';

/** A flat part in the preview: sizes in mm, area in mm². */
export interface PreviewPart {
  readonly name: string;
  readonly member: string;
  readonly width: number;
  readonly height: number;
  readonly thickness: number;
  readonly area: number;
  /** The sheet that it is on, from 0; undefined where none is large enough. */
  readonly sheet?: number;
  readonly unreached: number;
}
export interface Preview {
  readonly sheets: readonly { readonly width: number; readonly height: number; readonly paths: readonly string[] }[];
  readonly parts: readonly PreviewPart[];
  readonly notes: readonly string[];
}

/** A run whose motion goes into the file, with the design that it was computed of. */
export interface GeometryRun {
  readonly design: Design;
  readonly result: RunResult;
}

const api = {
  /** The flat parts as they would be written; undefined where there are none. */
  async preview(design: Design, options: GeometryOptions): Promise<Preview | undefined> {
    const compiled = compile(design);
    try {
      const { drawings, parts, notes } = sheets(compiled, options);
      const { pathData } = await import('@unirota/core/geometry');
      const member = new Map(design.members.map((m) => [m.id, m.name]));
      return {
        sheets: drawings.map(({ box, layers }) => ({
          width: box.x1,
          height: box.y1,
          paths: layers.map((l) => l.loops.map((o) => pathData(o)).join(' ')),
        })),
        parts: parts.map(({ profile, unreached, sheet }) => {
          const b = boxOf(profile.outline);
          return {
            name: profile.name,
            member: member.get(profile.member) ?? '',
            width: b.x1 - b.x0,
            height: b.y1 - b.y0,
            thickness: profile.thickness,
            area: areaOf(profile.outline) + profile.holes.reduce((a, h) => a + areaOf(h), 0),
            sheet,
            unreached,
          };
        }),
        notes,
      };
    } catch (e) {
      if (e instanceof NothingToWrite) return undefined;
      throw e;
    }
  },

  /**
   * The files, at a pose (free coordinates as given), with the motion of a run in those that hold one. `kernel` is where
   * its code is.
   */
  async write(
    design: Design,
    free: Float64Array,
    options: GeometryOptions,
    kernel: string,
    report: (done: number) => void,
    run?: GeometryRun,
    contents: ReadonlyMap<string, Uint8Array> = new Map(),
  ): Promise<Geometry> {
    const { readShape } = await import('@unirota/core/geometry');
    const shapes = new Map([...contents].map(([hash, bytes]) => [hash, readShape(bytes, hash)]));
    const compiled = compile(run?.design ?? design);
    const pose = poseOf(compiled);
    if (!run && free.length === pose.kinematics.freeCount) pose.setFree(free);
    return geometryOf(
      compiled,
      pose,
      options,
      () => loadKernel({ address: kernel }),
      (done, of) => report(done / of),
      run && ((a) => memberMotion(compiled, pose, a, run.result)),
      shapes,
    );
  },
};
export type GeometryApi = typeof api;
expose(api);

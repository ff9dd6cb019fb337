import { expose } from 'comlink';
import { type RunResult, coordinatesAt, ready } from '@unirota/core';
import type { Design } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import { Scene } from '../scene/scene';
import { type Film, type FilmFrame, drawFrame, makeFilm } from '../scene/film';
import type { LayoutLook } from '../scene/look';

/** A film of a run, as it is ordered: what is seen and how, and how many pictures a second at which speed. */
export interface FilmOrder {
  readonly design: Design;
  readonly result: RunResult;
  readonly look: LayoutLook;
  readonly frame: FilmFrame;
  readonly rate: number;
  readonly pace: number;
  /** Where the face of the numbers is fetched from. */
  readonly face?: string;
}

let ended = false;

const api = {
  /** Draws and encodes the film; says how much is done. Ended early it is as long as it has come. */
  async make(order: FilmOrder, report: (done: number) => void): Promise<Film> {
    ended = false;
    const { design, result, look, frame, rate, pace } = order;
    if (order.face) {
      const face = new FontFace('IBM Plex Sans Condensed', `url(${order.face})`, { weight: '600' });
      // Without it the numbers are in the browser's own face.
      await face.load().then(
        (f) => (self as unknown as { fonts: FontFaceSet }).fonts.add(f),
        () => undefined,
      );
    }
    const { compiled, pose } = ready(design);
    const scene = new Scene(new OffscreenCanvas(frame.width, frame.above) as unknown as HTMLCanvasElement, true);
    try {
      scene.theme(...look.theme);
      scene.colours((member, given) => look.colours[`${member} ${given ?? ''}`] ?? '#c9c4b8');
      scene.lend(frame.width, frame.above);
      scene.withContents(look.contents);
      scene.show(compiled, pose);
      scene.visibility(new Set(look.hidden), new Set(look.through));
      scene.dimension(look.dimensions, (mm) => String(mm));
      scene.cut(look.section.axis, look.section.share);
      scene.goTo(look.view);
      return await makeFilm({
        width: frame.width,
        height: frame.height,
        rate,
        length: frame.lasts / pace,
        draw: (into, time) => {
          const at = Math.min(frame.lasts, time * pace);
          coordinatesAt(result, at, pose.q);
          pose.replace();
          drawFrame(into, frame, at, (width, height) => scene.drawInto(into, width, height), `${show(at, 4)} s`);
        },
        progress: (done) => {
          report(done);
          return !ended;
        },
      });
    } finally {
      scene.dispose();
    }
  },
  end(): void {
    ended = true;
  },
};
export type FilmApi = typeof api;
expose(api);

import { type Drawn, type TitleData, analyse, bodiesOf, drawSheet, placeAt, poseOf, viewsOf } from '@unirota/core';
import type { KeptDrawing } from '@unirota/core/document';
import { NO_SHAPES, type Shapes } from '@unirota/core/shapes';
import type { Kernel } from './kernel';
import type { Progress } from './step';

/**
 * A drawing of a design as it is worked out: at the position that it states, or at home. Hidden lines are found by the kernel,
 * which is loaded when it is needed. Told as it goes on: views done, of how many.
 */
export async function drawingOf(
  worked: ReturnType<typeof analyse>,
  d: KeptDrawing,
  kernel: () => Promise<Kernel>,
  title: TitleData,
  shapes: Shapes = NO_SHAPES,
  progress?: Progress,
): Promise<Drawn> {
  if (d.shows === 'train map') return drawSheet(worked, d, [], [], title);
  const { compiled } = worked;
  const pose = poseOf(compiled);
  const notes: string[] = [];
  if (!placeAt(pose, d.starts)) notes.push('The train cannot stand where the drawing states it: it is drawn at home.');
  const { bodies, notes: left } = bodiesOf(compiled, pose, d, shapes);
  const views = viewsOf(d);
  const [oc, { DrawnSolids, project }] = await Promise.all([kernel(), import('./project')]);
  const solids = new DrawnSolids(oc);
  try {
    const projections = views.map((v, k) => {
      progress?.(k, views.length);
      return project(oc, solids, bodies, v, d.hidden === true);
    });
    return drawSheet(worked, d, bodies, projections, title, [...notes, ...left]);
  } finally {
    solids.free();
  }
}

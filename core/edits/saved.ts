import { unusedName } from '../document/index';
import type { Design, KeptDrawing, KeptRun, KeptSheet } from '../fields/types';
import { changed, freshId, idsOf, withoutGaps } from './items';

/** A run kept with the design under a name of its own. */
export function withRun(design: Design, run: Omit<KeptRun, 'id'>): { design: Design; id: string } {
  const id = freshId(idsOf(design), 'run');
  const name = unusedName(run.name, new Set(design.runs?.map((r) => r.name)));
  return { design: { ...design, runs: [...(design.runs ?? []), withoutGaps({ ...run, id, name })] }, id };
}

/** A kept run stated otherwise; what is undefined is stated no more. */
export function withRunChanged(design: Design, id: string, changes: Partial<KeptRun>): Design {
  return { ...design, runs: design.runs && changed(design.runs, id, (r) => withoutGaps({ ...r, ...changes })) };
}

/** A load sheet kept with the design under a name of its own. */
export function withSheet(design: Design, sheet: Omit<KeptSheet, 'id'>): { design: Design; id: string } {
  const id = freshId(idsOf(design), 'sheet');
  const name = unusedName(sheet.name, new Set(design.sheets?.map((x) => x.name)));
  return { design: { ...design, sheets: [...(design.sheets ?? []), withoutGaps({ ...sheet, id, name })] }, id };
}

/** What a strength analysis found, kept with its load sheet. */
export const withStrength = (
  design: Design,
  id: string,
  found: Required<Pick<KeptSheet, 'stress' | 'stressAt' | 'change' | 'yieldStrength' | 'size' | 'young' | 'poisson' | 'madeOf'>>,
): Design => ({ ...design, sheets: design.sheets && changed(design.sheets, id, (x) => ({ ...x, ...found })) });

/** A kept load sheet under another name. */
export const withSheetNamed = (design: Design, id: string, name: string): Design => ({
  ...design,
  sheets: design.sheets && changed(design.sheets, id, (x) => ({ ...x, name })),
});

/** A drawing kept with the design under a name of its own. */
export function withDrawing(design: Design, drawing: Omit<KeptDrawing, 'id'>): { design: Design; id: string } {
  const id = freshId(idsOf(design), 'drawing');
  const name = unusedName(drawing.name, new Set(design.drawings?.map((x) => x.name)));
  return { design: { ...design, drawings: [...(design.drawings ?? []), withoutGaps({ ...drawing, id, name })] }, id };
}

/** A kept drawing stated otherwise; what is undefined is stated no more. */
export const withDrawingChanged = (design: Design, id: string, changes: Partial<KeptDrawing>): Design => ({
  ...design,
  drawings: design.drawings && changed(design.drawings, id, (x) => withoutGaps({ ...x, ...changes })),
});

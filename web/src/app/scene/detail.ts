import { type Helix, drawn, drawnRoughly } from './geometry';
import type { Part } from './parts';

/** Beyond so many elements those that are small on the screen are drawn roughly. */
const MANY = 24;
const ROUGH_PIXELS = 70;
/** Turns of a thread are drawn where they are so far apart on the screen, px. */
const APART = 3;

/** Whether a picture of so many elements draws small ones roughly. */
export const drawnByDetail = (elements: number): boolean => elements > MANY;

/** Draws near wheels fully and far ones roughly, by their size on the screen, px a mm. */
export function drawDetail(parts: readonly Part[], perMm: number): void {
  for (const p of parts) {
    // Lines of a thread that would run into each other are left out.
    const { step, bare } = p.lines.geometry.userData as Partial<Helix>;
    if (step !== undefined) p.lines.geometry.setDrawRange(0, step * perMm < APART ? bare! : Infinity);
    if (!drawnByDetail(parts.length) || p.shape.type === 'shape') continue;
    const rough = p.size * perMm < ROUGH_PIXELS;
    if (rough === p.rough) continue;
    p.rough = rough;
    const d = rough ? drawnRoughly(p.shape) : drawn(p.shape);
    p.surface.geometry = d.surface;
    p.lines.geometry = d.lines;
  }
}

/**
 * SVG of flat parts in true size: paths of lines, arcs and cubic curves, a group a member, y upward (W3C SVG 1.1, 8.3 Path
 * data).
 */
import { type Outline, eachPiece } from '../solids/index';
import type { Drawing } from '../assembly/index';
import { type DrawingUnit, shown, xmlText } from './drawing';

/** The data of one path in the unit, closed unless it is open; y is turned over, as the format counts it downward. */
export function pathData(o: Outline, unit: DrawingUnit = 'mm', open = false): string {
  const at = (x: number, y: number): string => `${shown(x, unit)} ${shown(-y, unit) || 0}`;
  const out = [`M${at(...o.start)}`];
  eachPiece(o, (from, p) => {
    if (p.kind === 'line') out.push(`L${at(...p.to)}`);
    else if (p.kind === 'curve') out.push(`C${at(...p.c1)} ${at(...p.c2)} ${at(...p.to)}`);
    else {
      const r = shown(Math.hypot(from[0] - p.centre[0], from[1] - p.centre[1]), unit);
      // An arc of the format has less than a whole turn: what is more than half goes in two.
      const parts = Math.abs(p.angle) > Math.PI ? 2 : 1;
      const [x, y] = [from[0] - p.centre[0], from[1] - p.centre[1]];
      for (let k = 1; k <= parts; k++) {
        const a = (p.angle * k) / parts;
        const to = k === parts ? p.to : ([p.centre[0] + Math.cos(a) * x - Math.sin(a) * y, p.centre[1] + Math.sin(a) * x + Math.cos(a) * y] as const);
        out.push(`A${r} ${r} 0 0 ${p.angle > 0 ? 0 : 1} ${at(...to)}`);
      }
    }
  });
  return open ? out.join(' ') : `${out.join(' ')} Z`;
}

export function writeSvg(d: Drawing, unit: DrawingUnit = 'mm'): string {
  const { x0, y0, x1, y1 } = d.box;
  const [w, h] = [shown(x1 - x0, unit), shown(y1 - y0, unit)];
  const groups = d.layers.map(
    ({ name, loops }) => `  <g><title>${xmlText(name)}</title>\n    <path d="${loops.map((l) => pathData(l, unit)).join(' ')}"/>\n  </g>`,
  );
  // A hair line, as wide as it can be seen.
  const stroke = shown(0.1, unit);
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="${w}${unit}" height="${h}${unit}" viewBox="${shown(x0, unit)} ${shown(-y1, unit) || 0} ${w} ${h}">
  <title>${xmlText(d.title)}</title>
  <g fill="none" stroke="#000" stroke-width="${stroke}">
${groups.join('\n')}
  </g>
</svg>
`;
}

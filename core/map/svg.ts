import type { Ledger } from '../forces/index';
import type { Compiled } from '../kinematics/index';
import type { Units } from '../units/index';
import { type MapCoupling, type MapMember, mapLayout, widthOf } from './layout';
import { bearing, symbolPath } from './symbols';
import { couplingRatio, linesInBox, linkageText, loadText, loadsText, speedText } from './texts';

const INK = '#26272b';
const SOFT = '#5a564c';

/** What a map is drawn of, in its own units, y downward: a path in the words of SVG, a circle, a box, a text. */
export type MapShape =
  | { kind: 'path'; d: string; width: number; dashed?: true }
  | { kind: 'circle'; x: number; y: number; r: number }
  | { kind: 'box'; x: number; y: number; width: number; height: number }
  | { kind: 'text'; x: number; y: number; text: string; anchor?: 'end' | 'middle'; bold?: true; soft?: true };

const path = (d: string, width: number, dashed = false): MapShape[] => (d ? [{ kind: 'path', d, width, ...(dashed && { dashed }) }] : []);
const text = (x: number, y: number, t: string, more: { anchor?: 'end' | 'middle'; bold?: true; soft?: true } = {}): MapShape[] =>
  t ? [{ kind: 'text', x, y, text: t, ...more }] : [];
const BOLD = { bold: true } as const;
const LIVELY = { soft: true } as const;

function couplingShapes(c: MapCoupling, units: Units): MapShape[] {
  if (c.box) {
    const { x, y, width, height } = c.box;
    return [
      { kind: 'box', x, y, width, height },
      ...text(x + 10, y + 17, c.name, BOLD),
      ...text(x + 10, y + 32, linkageText(c), LIVELY),
      ...linesInBox(c).flatMap((m, k) => text(x + 10, y + 48 + 15 * k, m.name, LIVELY)),
    ];
  }
  const ratio = couplingRatio(c, units);
  const out = path(symbolPath(c), 2, c.type === 'proportional');
  if (c.type === 'joint' && c.touches.length > 1) out.push({ kind: 'circle', x: c.x, y: (c.touches[0].y + c.touches[1].y) / 2, r: 5 });
  if (c.set) return [...out, ...text(c.label.x, c.label.y, c.stated), ...text(c.label.x, c.label.y + 15, ratio, BOLD)];
  out.push(...text(c.label.x, c.label.y, c.touches.length < 2 ? c.name : c.stated || ratio, { anchor: 'end' }));
  return c.stated && c.touches.length > 1 ? [...out, ...text(c.label.x, c.label.y + 15, ratio, { anchor: 'end', bold: true })] : out;
}

function memberShapes(m: MapMember, ledger: Ledger, units: Units, mark: string): MapShape[] {
  const line = ledger.lines.find((l) => l.member === m.id);
  const { x, y } = m.label;
  const out = [
    ...path(`M${m.x0} ${m.y}H${m.x1}`, 2.5),
    ...path(bearing(m), 1),
    ...text(x, y, m.alike.length ? `${m.name} × ${m.alike.length + 1}` : m.name, BOLD),
    ...text(x, y + 15, `${speedText(m, line, units)}  ${loadText(line, units)}`.trim(), LIVELY),
  ];
  if (m.loads.length) {
    out.push(...path(`M${x + 5} ${m.y - 17}v11m-3.5 -4l3.5 4l3.5 -4`, 1.6), ...text(x + 13, m.y - 7, loadsText(m.loads.map((l) => l.name)), LIVELY));
  }
  if (m.source?.type === 'crank') {
    out.push(...path(`M${m.x0} ${m.y}h-16v-20h-22`, 2.5));
    out.push({ kind: 'circle', x: m.x0 - 40, y: m.y - 20, r: 4 });
  } else if (m.source) {
    out.push({ kind: 'circle', x: m.x0 - 22, y: m.y, r: 15 });
    out.push(...path(`M${m.x0 - 7} ${m.y}h7`, 2.5), ...text(m.x0 - 22, m.y + 5, 'M', { anchor: 'middle' }));
  }
  if (m.wanted.length) out.push(...path(`M${m.x1} ${m.y}h14l-5 -4m5 4l-5 4`, 1.5), ...text(m.x1 + 18, m.y + 5, mark, BOLD));
  return out;
}

/**
 * The train map as shapes: symbols after ISO 3952, names, speeds and loads at the position and in the load case of the ledger.
 * Undefined where the design has no member.
 */
export function mapShapes(compiled: Compiled, ledger: Ledger, units: Units): { shapes: MapShape[]; width: number; height: number } | undefined {
  const m = mapLayout(compiled);
  if (!m.members.length) return undefined;
  const marks = new Map(ledger.wanted.map((w) => [w.wanted, w.met]));
  const mark = (x: MapMember): string => (x.wanted.every((w) => marks.get(w)) ? 'met' : 'missed');
  return {
    shapes: [
      ...m.couplings.flatMap((c) => couplingShapes(c, units)),
      ...m.members.flatMap((x) => memberShapes(x, ledger, units, x.wanted.length ? mark(x) : '')),
    ],
    // Marks of wanted outputs stand behind the last line.
    width: Math.max(m.width, ...m.members.map((x) => x.x1 + (x.wanted.length ? 18 + widthOf('missed') : 0))),
    height: m.height,
  };
}

const escaped = (s: string): string => s.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

function svgOf(s: MapShape): string {
  switch (s.kind) {
    case 'path':
      return `<path d="${s.d}" fill="none" stroke="${INK}" stroke-width="${s.width}"${s.dashed ? ' stroke-dasharray="3 4"' : ''}/>`;
    case 'circle':
      return `<circle cx="${s.x}" cy="${s.y}" r="${s.r}" fill="#ffffff" stroke="${INK}" stroke-width="2"/>`;
    case 'box':
      return `<rect x="${s.x}" y="${s.y}" width="${s.width}" height="${s.height}" fill="#f2ede0" stroke="${INK}" stroke-width="1.5"/>`;
    case 'text': {
      const anchor = s.anchor ? ` text-anchor="${s.anchor}"` : '';
      return `<text x="${s.x}" y="${s.y}"${anchor}${s.bold ? ' font-weight="bold"' : ''}${s.soft ? ` fill="${SOFT}"` : ''}>${escaped(s.text)}</text>`;
    }
  }
}

/** The train map as a drawing, SVG in the units of the map. Undefined where the design has no member. */
export function mapSvg(compiled: Compiled, ledger: Ledger, units: Units): { svg: string; width: number; height: number } | undefined {
  const drawn = mapShapes(compiled, ledger, units);
  if (!drawn) return undefined;
  const { shapes, width, height } = drawn;
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" ` +
    `font-family="IBM Plex Sans Condensed" font-size="13" fill="${INK}">${shapes.map(svgOf).join('')}</svg>`;
  return { svg, width, height };
}

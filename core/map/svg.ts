import type { Ledger } from '../forces/index';
import type { Compiled } from '../kinematics/index';
import type { Units } from '../units/index';
import { type MapCoupling, type MapMember, mapLayout, widthOf } from './layout';
import { bearing, symbolPath } from './symbols';
import { couplingRatio, linesInBox, linkageText, loadText, loadsText, speedText } from './texts';

const INK = '#26272b';
const SOFT = '#5a564c';

const escaped = (s: string): string => s.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
const text = (x: number, y: number, s: string, more = ''): string => (s ? `<text x="${x}" y="${y}"${more}>${escaped(s)}</text>` : '');
const path = (d: string, width: number, more = ''): string =>
  d ? `<path d="${d}" fill="none" stroke="${INK}" stroke-width="${width}"${more}/>` : '';
const BOLD = ' font-weight="bold"';
const LIVELY = ` fill="${SOFT}"`;

function couplingSvg(c: MapCoupling, units: Units): string {
  if (c.box) {
    const { x, y, width, height } = c.box;
    return (
      `<rect x="${x}" y="${y}" width="${width}" height="${height}" fill="#f2ede0" stroke="${INK}" stroke-width="1.5"/>` +
      text(x + 10, y + 17, c.name, BOLD) +
      text(x + 10, y + 32, linkageText(c), LIVELY) +
      linesInBox(c)
        .map((m, k) => text(x + 10, y + 48 + 15 * k, m.name, LIVELY))
        .join('')
    );
  }
  const ratio = couplingRatio(c, units);
  let out = path(symbolPath(c), 2, c.type === 'proportional' ? ' stroke-dasharray="3 4"' : '');
  if (c.type === 'joint' && c.touches.length > 1) {
    out += `<circle cx="${c.x}" cy="${(c.touches[0].y + c.touches[1].y) / 2}" r="5" fill="#ffffff" stroke="${INK}" stroke-width="2"/>`;
  }
  if (c.set) return out + text(c.label.x, c.label.y, c.stated) + text(c.label.x, c.label.y + 15, ratio, BOLD);
  const end = ' text-anchor="end"';
  out += text(c.label.x, c.label.y, c.touches.length < 2 ? c.name : c.stated || ratio, end);
  return c.stated && c.touches.length > 1 ? out + text(c.label.x, c.label.y + 15, ratio, end + BOLD) : out;
}

function memberSvg(m: MapMember, ledger: Ledger, units: Units, mark: string): string {
  const line = ledger.lines.find((l) => l.member === m.id);
  const { x, y } = m.label;
  let out = path(`M${m.x0} ${m.y}H${m.x1}`, 2.5) + path(bearing(m), 1);
  out += text(x, y, m.alike.length ? `${m.name} × ${m.alike.length + 1}` : m.name, BOLD);
  out += text(x, y + 15, `${speedText(m, line, units)}  ${loadText(line, units)}`.trim(), LIVELY);
  if (m.loads.length) {
    out += path(`M${x + 5} ${m.y - 17}v11m-3.5 -4l3.5 4l3.5 -4`, 1.6);
    out += text(x + 13, m.y - 7, loadsText(m.loads.map((l) => l.name)), LIVELY);
  }
  if (m.source) {
    out +=
      m.source.type === 'crank'
        ? path(`M${m.x0} ${m.y}h-16v-20h-22`, 2.5) +
          `<circle cx="${m.x0 - 40}" cy="${m.y - 20}" r="4" fill="#ffffff" stroke="${INK}" stroke-width="2"/>`
        : `<circle cx="${m.x0 - 22}" cy="${m.y}" r="15" fill="#ffffff" stroke="${INK}" stroke-width="2"/>` +
          path(`M${m.x0 - 7} ${m.y}h7`, 2.5) +
          text(m.x0 - 22, m.y + 5, 'M', ' text-anchor="middle"');
  }
  if (m.wanted.length) out += path(`M${m.x1} ${m.y}h14l-5 -4m5 4l-5 4`, 1.5) + text(m.x1 + 18, m.y + 5, mark, BOLD);
  return out;
}

/**
 * The train map as a drawing, SVG in the units of the map: symbols after ISO 3952, names, speeds and loads at the position and in
 * the load case of the ledger. Undefined where the design has no member.
 */
export function mapSvg(compiled: Compiled, ledger: Ledger, units: Units): { svg: string; width: number; height: number } | undefined {
  const m = mapLayout(compiled);
  if (!m.members.length) return undefined;
  const marks = new Map(ledger.wanted.map((w) => [w.wanted, w.met]));
  const mark = (x: MapMember): string => (x.wanted.every((w) => marks.get(w)) ? 'met' : 'missed');
  const body =
    m.couplings.map((c) => couplingSvg(c, units)).join('') +
    m.members.map((x) => memberSvg(x, ledger, units, x.wanted.length ? mark(x) : '')).join('');
  // Marks of wanted outputs stand behind the last line.
  const width = Math.max(m.width, ...m.members.map((x) => x.x1 + (x.wanted.length ? 18 + widthOf('missed') : 0)));
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${m.height}" width="${width}" height="${m.height}" ` +
    `font-family="IBM Plex Sans Condensed" font-size="13" fill="${INK}">${body}</svg>`;
  return { svg, width, height: m.height };
}

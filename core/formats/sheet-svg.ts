/** SVG of a drawing, in mm on paper, y upward in the sheet and downward in the format (W3C SVG 1.1). */
import { ARROW, LINES, LINE_KINDS, type Mark, type Sheet } from '../drawing/index';
import { shown, xmlText } from './drawing';
import { pathData } from './svg';

/** The typeface of drawings. */
const FACE = 'IBM Plex Sans Condensed';
const INK = '#000';
const at = (x: number): string => String(shown(x, 'mm') || 0);

const arrow = ({ tip: [x, y], along: [dx, dy] }: Extract<Mark, { kind: 'arrow' }>): string => {
  const [l, b] = ARROW;
  const [fx, fy] = [x - l * dx, y - l * dy];
  return `M${at(x)} ${at(-y)} L${at(fx - b * dy)} ${at(-(fy + b * dx))} L${at(fx + b * dy)} ${at(-(fy - b * dx))} Z`;
};

function words(m: Extract<Mark, { kind: 'text' }>): string {
  const [x, y] = [at(m.at[0]), at(-m.at[1])];
  const turn = m.turn ? ` transform="rotate(${at(-m.turn)} ${x} ${y})"` : '';
  // Heights are those of capitals: 0.7 of the size of the face.
  const size = at(m.height / 0.7);
  return `<text x="${x}" y="${y}" font-size="${size}"${m.anchor === 'start' ? '' : ` text-anchor="${m.anchor}"`}${m.bold ? ' font-weight="bold"' : ''}${turn}>${xmlText(m.text)}</text>`;
}

/** What is inside a sheet's picture: a path a kind of line, arrows, texts. For the page, which draws it itself. */
export function sheetParts({ marks }: Sheet): { lines: { kind: string; d: string; width: number; dashes: string }[]; arrows: string } {
  return {
    lines: LINE_KINDS.flatMap((kind) => {
      const d = marks.flatMap((m) => (m.kind === 'stroke' && m.line === kind ? [pathData(m.path, 'mm', true)] : [])).join('');
      return d ? [{ kind, d, width: LINES[kind].width, dashes: LINES[kind].dashes?.join(' ') ?? '' }] : [];
    }),
    arrows: marks.flatMap((m) => (m.kind === 'arrow' ? [arrow(m)] : [])).join(''),
  };
}

export function writeSheetSvg(s: Sheet): string {
  const { lines, arrows } = sheetParts(s);
  const paths = lines.map(
    ({ kind, d, width, dashes }) =>
      `  <path class="${kind}" d="${d}" fill="none" stroke="${INK}" stroke-width="${width}" stroke-linecap="${dashes ? 'butt' : 'round'}" stroke-linejoin="round"${dashes ? ` stroke-dasharray="${dashes}"` : ''}/>`,
  );
  const texts = s.marks.flatMap((m) => (m.kind === 'text' ? [`    ${words(m)}`] : []));
  const [w, h] = [shown(s.width, 'mm'), shown(s.height, 'mm')];
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="${w}mm" height="${h}mm" viewBox="0 ${-h} ${w} ${h}">
  <title>${xmlText(s.title)}</title>
${paths.join('\n')}
  <path class="arrow" d="${arrows}" fill="${INK}"/>
  <g font-family="${FACE}, 'IBM Plex Sans', sans-serif" fill="${INK}">
${texts.join('\n')}
  </g>
</svg>
`;
}

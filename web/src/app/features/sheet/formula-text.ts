import type { Field } from '@unirota/core/document';
import type { Derived } from '@unirota/core/elements';
import { show } from '@unirota/core/units';

const GREEK: Readonly<Record<string, string>> = {
  α: '\\alpha',
  β: '\\beta',
  γ: '\\gamma',
  δ: '\\delta',
  Δ: '\\Delta',
  ε: '\\varepsilon',
  η: '\\eta',
  λ: '\\lambda',
  μ: '\\mu',
  π: '\\pi',
  Σ: '\\Sigma',
  φ: '\\varphi',
  ψ: '\\psi',
};
const FUNCTIONS = new Set(['cos', 'sin', 'tan', 'cot', 'inv']);
const SIGNS: Readonly<Record<string, string>> = {
  '·': '\\cdot ',
  '−': '-',
  '±': '\\pm ',
  '½': '\\tfrac{1}{2}',
  '°': '^{\\circ}',
  '²': '^{2}',
  '√': '\\surd ',
  '≤': '\\le ',
  '≥': '\\ge ',
  '[': '[',
  ']': ']',
  '(': '(',
  ')': ')',
  '/': '/',
  '=': '=',
  '+': '+',
  '-': '-',
  ',': ',',
  '^': '^',
  '%': '\\%',
};
const SUBSCRIPTS: Readonly<Record<string, string>> = { '₀': '0', '₁': '1', '₂': '2' };

interface Token {
  kind: 'symbol' | 'function' | 'number' | 'word' | 'sign' | 'space';
  text: string;
}

/** A symbol as formulas write it: one letter, what stands behind it, and its marks. "αwt", "z1", "haP*", "d′". */
const SYMBOL = /^[A-Za-zα-ωΔΣΨ][A-Za-z0-9₀₁₂]*[*′]*/;

/** The parts of a formula. Words of plain speech (longer than a symbol could be) stay words. */
function tokens(text: string): Token[] {
  const out: Token[] = [];
  for (let s = text; s;) {
    const space = /^\s+/.exec(s)?.[0];
    const number = /^\d+(\.\d+)?/.exec(s)?.[0];
    const symbol = SYMBOL.exec(s)?.[0];
    const t = space ?? number ?? symbol ?? s[0];
    const kind =
      space !== undefined
        ? 'space'
        : number !== undefined
          ? 'number'
          : symbol === undefined
            ? 'sign'
            : FUNCTIONS.has(symbol)
              ? 'function'
              : isWord(symbol)
                ? 'word'
                : 'symbol';
    out.push({ kind, text: t });
    s = s.slice(t.length);
  }
  return out;
}
const isWord = (s: string): boolean => /^[a-z]{4,}$/.test(s) || ['of', 'the', 'at', 'in', 'its', 'and', 'mm', 'to', 'per'].includes(s);

function symbolTex(s: string): string {
  const marks = /[*′]+$/.exec(s)?.[0] ?? '';
  const bare = s.slice(0, s.length - marks.length);
  const head = GREEK[bare[0]] ?? bare[0];
  const tail = [...bare.slice(1)].map((c) => SUBSCRIPTS[c] ?? c).join('');
  const up = marks.replaceAll('′', '\\prime ').replaceAll('*', '\\ast ');
  return `${head}${tail ? `_{\\mathrm{${tail}}}` : ''}${up ? `^{${up}}` : ''}`;
}

/** A formula as it stands in the engine, for typesetting. */
export const toTex = (text: string): string =>
  tokens(text)
    .map((t) => {
      if (t.kind === 'symbol') return symbolTex(t.text);
      if (t.kind === 'function') return t.text === 'inv' ? '\\operatorname{inv} ' : `\\${t.text} `;
      if (t.kind === 'word') return `\\text{ ${t.text} }`;
      if (t.kind === 'sign') return SIGNS[t.text] ?? GREEK[t.text] ?? '';
      return t.text;
    })
    .join('');

/**
 * The right side of a formula with numbers put in; undefined where
 * one of its symbols has none, or there is nothing to put in.
 */
export function withNumbers(text: string, value: (symbol: string) => string | undefined): string | undefined {
  const right = text.includes('=') ? text.slice(text.indexOf('=') + 1) : text;
  let any = false;
  const parts = tokens(right).map((t) => {
    if (t.kind === 'word') return undefined;
    if (t.kind !== 'symbol' || t.text === 'π') return toTex(t.text);
    const v = value(t.text);
    if (v !== undefined) any = true;
    return v;
  });
  return any && parts.every((p) => p !== undefined) ? parts.join('') : undefined;
}

/** A derived value's formula with the numbers of its sheet put in; undefined where it has no formula or no number. */
export function formulaWithNumbers(
  d: Derived,
  derived: readonly Derived[],
  fields: readonly Field[],
  valueOf: (f: Field) => number | string | undefined,
): string | undefined {
  if (!d.formula || typeof d.value !== 'number') return undefined;
  const bare = (x: number): string => show(x, 5).replace('−', '-').replaceAll('\u202f', '');
  const found = new Map(
    derived.flatMap((x) => (x.symbol && typeof x.value === 'number' ? [[x.symbol, bare(x.value) + (x.unit === 'deg' ? '^{\\circ}' : '')]] : [])),
  );
  const given = new Map(
    fields.flatMap((f) => {
      const v = f.symbol ? (valueOf(f) ?? f.initial) : undefined;
      if (v === undefined || typeof v === 'boolean' || !f.symbol) return [];
      const [n, m] = String(v).split('/').map(Number);
      const x = m === undefined ? n : n / m;
      return Number.isFinite(x) ? [[f.symbol, bare(x) + (f.unit === 'deg' ? '^{\\circ}' : '')] as const] : [];
    }),
  );
  return withNumbers(d.formula, (s) => given.get(s) ?? found.get(s));
}

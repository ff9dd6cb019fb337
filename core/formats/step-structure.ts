/**
 * Names, tree and colours of a STEP file (ISO 10303-21 with AP203, 214 or 242), read from its text. Geometry is the kernel's: a
 * part is known to it by the rank of its representation among the entities of the file.
 */
import { colourOfParts, listAt } from '../math/index';
import { CannotRead } from './refused';

/** A part: what the kernel can make a body of. */
export interface StepPart {
  name: string;
  /** Place of its representation among all entities, from 1. */
  ranks: number[];
  /** #rrggbb */
  colour?: string;
}

/** A product where it stands: a part, or an assembly of others. */
export interface StepNode {
  name: string;
  /** Its number in the list of parts, where it has a body of its own. */
  part?: number;
  children: StepNode[];
}

export interface StepStructure {
  parts: StepPart[];
  roots: StepNode[];
}

/** How deep assemblies stand in each other, and how many places of parts there are, at most. */
const DEEPEST = 40;
const MOST_NODES = 20_000;
const MOST_ENTITIES = 5_000_000;

/** Entities whose arguments are of interest; of all others only their place is kept. */
const KEPT =
  /^(PRODUCT|PRODUCT_DEFINITION_FORMATION\w*|PRODUCT_DEFINITION\w*|SHAPE_DEFINITION_REPRESENTATION|NEXT_ASSEMBLY_USAGE_OCCURRENCE|SHAPE_REPRESENTATION_RELATIONSHIP|\w*SHAPE_REPRESENTATION|\w*STYLED_ITEM|PRESENTATION_STYLE_\w+|SURFACE_STYLE_\w+|SURFACE_SIDE_STYLE|FILL_AREA_STYLE\w*|COLOUR_RGB|DRAUGHTING_PRE_DEFINED_COLOUR|MANIFOLD_SOLID_BREP|BREP_WITH_VOIDS|SHELL_BASED_SURFACE_MODEL)$/;

/** Colours that have a name in the standard. */
const NAMED: Readonly<Record<string, string>> = {
  black: '#000000',
  red: '#ff0000',
  green: '#00ff00',
  blue: '#0000ff',
  yellow: '#ffff00',
  magenta: '#ff00ff',
  cyan: '#00ffff',
  white: '#ffffff',
};

interface Entity {
  type: string;
  text: string;
  rank: number;
}

/** Text as it is meant: doubled quotes, and the directives of ISO 10303-21, 6.4.3. */
export const decoded = (text: string): string =>
  text
    .replace(/''/g, "'")
    .replace(/\\X2\\((?:[0-9A-F]{4})*)\\X0\\/gi, (_, hex: string) => String.fromCharCode(...(hex.match(/.{4}/g) ?? []).map((h) => parseInt(h, 16))))
    .replace(/\\X4\\((?:[0-9A-F]{8})*)\\X0\\/gi, (_, hex: string) =>
      String.fromCodePoint(...(hex.match(/.{8}/g) ?? []).map((h) => Math.min(0x10ffff, parseInt(h, 16)))),
    )
    .replace(/\\X\\([0-9A-F]{2})/gi, (_, h: string) => String.fromCharCode(parseInt(h, 16)))
    .replace(/\\S\\(.)/g, (_, c: string) => String.fromCharCode(c.charCodeAt(0) + 128));

const refsIn = (text: string): number[] => Array.from(text.matchAll(/#(\d+)/g), (m) => Number(m[1]));
const textsIn = (text: string): string[] => Array.from(text.matchAll(/'((?:[^']|'')*)'/g), (m) => decoded(m[1]));

/** The semicolon that ends a statement: the next one outside quotes; −1 where there is none. */
function endOf(text: string, from: number): number {
  let end = text.indexOf(';', from);
  for (let quote = text.indexOf("'", from); quote >= 0 && quote < end;) {
    const close = text.indexOf("'", quote + 1);
    if (close < 0) return -1;
    if (close > end) end = text.indexOf(';', close);
    quote = text.indexOf("'", close + 1);
  }
  return end;
}

/** Entities of the data section by number. Throws `CannotRead` where there is none. */
function entitiesOf(text: string): Map<number, Entity> {
  if (!/^\s*ISO-10303-21\s*;/.test(text.slice(0, 200))) throw new CannotRead('This is no STEP file: it does not begin with ISO-10303-21.');
  const start = text.search(/\bDATA\s*(\([^)]*\))?\s*;/);
  if (start < 0) throw new CannotRead('The file is cut short: it has no data.');
  const out = new Map<number, Entity>();
  let rank = 0;
  const head = /\s*(?:\/\*[^*]*\*\/\s*)*#(\d+)\s*=\s*([A-Z0-9_]*)/y;
  let at = start + text.slice(start).indexOf(';') + 1;
  for (;;) {
    head.lastIndex = at;
    const m = head.exec(text);
    const end = m ? endOf(text, head.lastIndex) : -1;
    if (!m || end < 0) break;
    at = end + 1;
    if (++rank > MOST_ENTITIES) throw new CannotRead(`The file has more than ${MOST_ENTITIES} entities.`);
    if (KEPT.test(m[2])) out.set(Number(m[1]), { type: m[2], text: text.slice(head.lastIndex, end), rank });
  }
  if (!/^\s*ENDSEC\s*;/.test(text.slice(at, at + 200))) {
    throw new CannotRead(rank ? 'The file is cut short, or damaged: its data do not end.' : 'The file is damaged: its data cannot be read.');
  }
  return out;
}

/** Follows references from a style to its colour. */
function colourFrom(entities: ReadonlyMap<number, Entity>, id: number, depth = 0): string | undefined {
  const e = entities.get(id);
  if (!e || depth > 10) return undefined;
  if (e.type === 'COLOUR_RGB') {
    const figures =
      e.text
        .match(/[-+]?\d*\.?\d+(?:E[-+]?\d+)?(?=\s*[,)])/gi)
        ?.slice(-3)
        .map(Number) ?? [];
    if (figures.length < 3) return undefined;
    return colourOfParts(figures);
  }
  if (e.type === 'DRAUGHTING_PRE_DEFINED_COLOUR') return NAMED[textsIn(e.text)[0]?.toLowerCase()];
  for (const r of refsIn(e.text)) {
    const found = colourFrom(entities, r, depth + 1);
    if (found) return found;
  }
  return undefined;
}

const BODY = /^(MANIFOLD_SOLID_BREP|BREP_WITH_VOIDS|SHELL_BASED_SURFACE_MODEL)$/;

/** Throws `CannotRead` where the text is no STEP file, or damaged. */
export function stepStructure(text: string): StepStructure {
  const entities = entitiesOf(text);
  const all = (type: RegExp): [number, Entity][] => [...entities].filter(([, e]) => type.test(e.type));
  const colourOf = new Map<number, string>();
  for (const [, e] of all(/STYLED_ITEM$/)) {
    const refs = refsIn(e.text);
    const item = refs.at(-1);
    const colour = refs
      .slice(0, -1)
      .map((r) => colourFrom(entities, r))
      .find(Boolean);
    if (item !== undefined && colour && !colourOf.has(item)) colourOf.set(item, colour);
  }
  /** The product definition that a formation, a definition or its shape belongs to. */
  const product = new Map<number, number>();
  const nameOf = new Map<number, string>();
  for (const [id, e] of all(/^PRODUCT_DEFINITION(_WITH_ASSOCIATED_DOCUMENTS)?$/)) {
    const formation = entities.get(refsIn(e.text)[0]);
    const p = formation && entities.get(refsIn(formation.text).at(-1)!);
    const [code, name] = p?.type === 'PRODUCT' ? textsIn(p.text) : [];
    nameOf.set(id, (name || code || `Part ${nameOf.size + 1}`).replace(/\p{Cc}/gu, ' ').trim() || `Part ${nameOf.size + 1}`);
  }
  for (const [id, e] of all(/^PRODUCT_DEFINITION_SHAPE$/)) for (const r of refsIn(e.text)) if (nameOf.has(r)) product.set(id, r);
  /** Representations that say the same thing. */
  const same = new Map<number, Set<number>>();
  for (const [, e] of all(/^SHAPE_REPRESENTATION_RELATIONSHIP$/)) {
    const [a, b] = refsIn(e.text).slice(-2);
    same.set(a, (same.get(a) ?? new Set()).add(b));
    same.set(b, (same.get(b) ?? new Set()).add(a));
  }
  const bodiesIn = (rep: number): number[] => {
    const e = entities.get(rep);
    return e ? refsIn(e.text).filter((r) => BODY.test(entities.get(r)?.type ?? '')) : [];
  };
  const parts: StepPart[] = [];
  const partOf = new Map<number, number>();
  for (const [, e] of all(/^SHAPE_DEFINITION_REPRESENTATION$/)) {
    const [shape, rep] = refsIn(e.text);
    const owner = product.get(shape);
    if (owner === undefined || rep === undefined) continue;
    const reps = [rep, ...(same.get(rep) ?? [])].filter((r) => bodiesIn(r).length);
    if (!reps.length) continue;
    const bodies = reps.flatMap(bodiesIn);
    const faces = colourOf.size ? bodies.flatMap((b) => colourOf.get(b) ?? []) : [];
    const colour = faces[0] ?? reps.map((r) => colourOf.get(r)).find(Boolean);
    const ranks = reps.map((r) => entities.get(r)!.rank);
    const had = partOf.get(owner);
    if (had !== undefined) parts[had].ranks.push(...ranks.filter((r) => !parts[had].ranks.includes(r)));
    else {
      partOf.set(owner, parts.length);
      parts.push({ name: nameOf.get(owner)!, ranks, ...(colour && { colour }) });
    }
  }
  return { parts, roots: treeOf(all(/^NEXT_ASSEMBLY_USAGE_OCCURRENCE$/), nameOf, partOf) };
}

function treeOf(usages: [number, Entity][], nameOf: ReadonlyMap<number, string>, partOf: ReadonlyMap<number, number>): StepNode[] {
  const children = new Map<number, number[]>();
  const used = new Set<number>();
  for (const [, e] of usages) {
    const [parent, child] = refsIn(e.text);
    listAt(children, parent).push(child);
    used.add(child);
  }
  let nodes = 0;
  const make = (id: number, depth: number): StepNode => {
    if (depth > DEEPEST || ++nodes > MOST_NODES) throw new CannotRead('The file’s assemblies stand in each other too deep, or hold too many parts.');
    const part = partOf.get(id);
    return { name: nameOf.get(id) ?? 'Part', ...(part !== undefined && { part }), children: (children.get(id) ?? []).map((c) => make(c, depth + 1)) };
  };
  return [...nameOf.keys()].filter((id) => !used.has(id) && (children.has(id) || partOf.has(id))).map((id) => make(id, 0));
}

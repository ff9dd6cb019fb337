import { readFileSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import DxfParser from 'dxf-parser';
import { beforeAll, describe, expect, it } from 'vitest';
import { type Drawn, type Mark, analyse, bodiesOf, newDrawing, removeItems, viewsOf, withDrawing } from '@unirota/core';
import { type Design, type KeptDrawing, readDesign } from '@unirota/core/document';
import { writeSheetDxf, writeSheetSvg } from '@unirota/core/geometry';
import { PDF_FONTS, type PdfFonts, writeSheetPdf } from '@unirota/core/pdf';
import { NO_SHAPES } from '@unirota/core/shapes';
import { Builder } from '../core/testing/designs';
import { readPdf } from '../core/testing/pdf';
import { type Kernel, drawingOf, loadKernel } from './index';
import { DrawnSolids, project } from './project';

const require = createRequire(import.meta.url);
let oc: Kernel;
beforeAll(async () => {
  oc = await loadKernel({ bytes: readFileSync(require.resolve('replicad-opencascadejs/wasm')) });
});
const TITLE = { revision: '7', date: '2026-11-30', by: 'N. Sedge' };
const draw = (design: Design, d: Omit<KeptDrawing, 'id'>): Promise<Drawn> =>
  drawingOf(analyse(design), { id: 'd', ...d }, () => Promise.resolve(oc), TITLE);
const texts = (d: Drawn): string[] => d.sheet.marks.flatMap((m) => (m.kind === 'text' ? [m.text] : []));

/** A wheel with a bore on a shaft along z, and a plate with nothing behind it. */
function turned(): Design {
  const b = new Builder();
  b.design.name = 'Wheel';
  b.shaft([0, 0, 0], 'frame', { id: 's' });
  const g = b.gear('s', 20, 2, { width: 10, bore: 12 });
  b.design.elements = b.design.elements.map((e) => (e.id === g ? { ...e, id: 'g' } : e));
  return b.design;
}

describe('what the kernel sees', () => {
  const seen = (d: Omit<KeptDrawing, 'id'>, design = turned()) => {
    const { compiled, pose } = analyse(design);
    const drawing = { id: 'd', ...d };
    const solids = new DrawnSolids(oc);
    const { bodies } = bodiesOf(compiled, pose, drawing, NO_SHAPES);
    try {
      return viewsOf(drawing).map((v) => project(oc, solids, bodies, v, true));
    } finally {
      solids.free();
    }
  };

  it('of a wheel along its axis: tip circle and bore, exactly, and nothing hidden', () => {
    const [p] = seen({ name: 'd', along: '-z', sides: [{ side: 'front' }] });
    const radii = p.visible.map((x) => Math.hypot(...x.start)).sort((a, b) => a - b);
    // da = m (z + 2) = 44.
    expect(radii.map((r) => Math.round(r * 1e6) / 1e6)).toEqual([6, 22]);
    for (const x of p.visible) expect(x.pieces).toMatchObject([{ kind: 'arc', centre: [0, 0] }]);
    expect(p.hidden).toEqual([]);
  });

  it('of it from beside: its rectangle of 44 × 10, and the bore hidden', () => {
    const [p] = seen({ name: 'd', along: '+y', sides: [{ side: 'front' }] });
    const length = p.visible.reduce((s, x) => s + Math.hypot(x.pieces[0].to[0] - x.start[0], x.pieces[0].to[1] - x.start[1]), 0);
    expect(length).toBeCloseTo(2 * (44 + 10), 6);
    expect(p.hidden.map((x) => Math.abs(x.start[0])).map((x) => Math.round(x * 1e6) / 1e6)).toEqual([6, 6]);
  });

  it('of a section along its axis: root to bore is cut, the teeth are not', () => {
    const [p] = seen({ name: 'd', sections: [{ along: '+y', at: 0 }], sides: [] });
    const [c] = p.cuts;
    expect(p.cuts).toHaveLength(1);
    const xs = c.edges.filter((_, i) => i % 2 === 0).map(Math.abs);
    // df = m (z − 2.5) = 35.
    expect(Math.max(...xs)).toBeCloseTo(17.5, 6);
    expect(Math.min(...xs)).toBeCloseTo(6, 6);
  });

  it('of a section beside it: whole where it lies beyond, nothing where it lies before', () => {
    const [beyond] = seen({ name: 'd', sections: [{ along: '+y', at: -50 }], sides: [] });
    expect(beyond.cuts).toEqual([]);
    expect(beyond.visible).toHaveLength(4);
    const [before] = seen({ name: 'd', sections: [{ along: '+y', at: 50 }], sides: [] });
    expect(before).toEqual({ visible: [], hidden: [], cuts: [] });
    // Seen the other way the same plane has it beyond.
    const [turned] = seen({ name: 'd', sections: [{ along: '-y', at: 50 }], sides: [] });
    expect(turned.visible).toHaveLength(4);
  });

  it('with its teeth as cut: 20 tips', () => {
    const [p] = seen({ name: 'd', along: '-z', teeth: 'as cut', sides: [{ side: 'front' }] });
    const tips = p.visible.filter((x) => x.pieces[0].kind === 'arc' && Math.abs(Math.hypot(...x.start) - 22) < 1e-3);
    expect(tips).toHaveLength(20);
  });
});

describe('a drawing', () => {
  it('has the sizes that are chosen, as they are, and says which others there are', async () => {
    const d = await draw(turned(), {
      name: 'Wheel',
      member: 's',
      sides: [{ side: 'front' }],
      dimensions: [
        { size: 'tip diameter', a: 'g', b: 'g' },
        { size: 'bore', a: 'g', b: 'g' },
        { size: 'width', a: 'g', b: 'g' },
      ],
    });
    expect(texts(d)).toEqual(expect.arrayContaining(['Ø44', 'Ø12', '10', 'N. Sedge', 'Wheel: Wheel', '5:1', '7', '2026-11-30']));
    expect(d.sizes.map((s) => [s.size, Math.round(s.value * 1e9) / 1e9, s.shown])).toEqual([
      ['tip diameter', 44, true],
      ['root diameter', 35, false],
      ['pitch diameter', 40, false],
      ['bore', 12, true],
      ['width', 10, true],
    ]);
    // Gear data by ISO 1340.
    expect(texts(d)).toEqual(expect.arrayContaining(['Gear data', 'Teeth z', '20', 'Normal module mn, mm', '2']));
  });

  it('has the tip diameter of a wheel wherever its teeth point: 13 teeth of a bevel gear and of a worm wheel', async () => {
    const b = new Builder();
    const { member } = b.shaft([0, 0, 0]);
    b.element('bevel-gear', member, { teeth: 13, module: 4, coneAngle: 45, width: 15, phase: 11 });
    b.element('worm-wheel', member, { teeth: 13, module: 4, width: 15, phase: 11 });
    const { sizes } = await draw(b.design, { name: 'x', sides: [{ side: 'front' }] });
    const tips = sizes.filter((s) => s.size === 'tip diameter').map((s) => Number(s.value.toFixed(6)));
    // de + 2 me cos δ (ISO 23509, addendum 1 me), and m (z + 2).
    expect(tips).toEqual([Number((52 + 8 * Math.SQRT1_2).toFixed(6)), 60]);
  });

  it('has all gear data of a wheel in several meshes, in lines; what has no room on the sheet is said', async () => {
    const design = demo('swing-footbridge.json');
    const d = await draw(design, { name: 'Sun', member: 'motor', sides: [{ side: 'front' }] });
    for (const t of ['Planet wheel 1;', 'Planet wheel 2;', 'Planet wheel 3']) expect(texts(d)).toContain(t);
    expect(d.notes).toEqual([]);
    const long = await draw(design, { name: 'x'.repeat(110), member: 'motor', sides: [{ side: 'front' }] });
    expect(long.notes.join()).toMatch(/^Too long for their places, and cut short: “Swing footbridge: x+”\.$/);
  });

  it('does not leave out an overall size because another one is as large', async () => {
    const b = new Builder();
    const plate = b.member([0, 0, 0], { kind: 'body' });
    b.element('block', plate, { length: 90, depth: 50, height: 90 });
    const stated = { name: 'Plate', gearData: false, sides: [{ side: 'front' as const }] };
    const [e] = b.design.elements;
    // Length and height are 90: the one is chosen, the other is an overall size.
    const d = await draw(b.design, { ...stated, dimensions: [{ size: 'length', a: e.id, b: e.id }] });
    expect(texts(d).filter((t) => t === '90')).toHaveLength(2);
    const turned = d.sheet.marks.flatMap((m) => (m.kind === 'text' && m.text === '90' ? [m.turn] : []));
    expect(turned.sort()).toEqual([0, 90]);
  });

  it('in inches is written in inches', async () => {
    const design = turned();
    design.settings = { lengthUnit: 'in' };
    const d = await draw(design, { name: 'Wheel', sides: [{ side: 'front' }], dimensions: [{ size: 'tip diameter', a: 'g', b: 'g' }] });
    // 44 mm / 25.4
    expect(texts(d)).toContain('Ø1.73228');
    expect(texts(d)).toContain('in');
  });

  it('is drawn where it states, and follows a change of the design', async () => {
    const stated = { name: 'Wheel', sides: [{ side: 'front' as const }], dimensions: [{ size: 'tip diameter' as const, a: 'g', b: 'g' }] };
    const design = turned();
    design.elements = design.elements.map((e) => (e.id === 'g' ? { ...e, teeth: 30 } : e)) as Design['elements'];
    expect(texts(await draw(design, stated))).toContain('Ø64');
  });

  it('says what no view shows: a size that is looked along, and a section that meets nothing', async () => {
    const d = await draw(turned(), {
      name: 'Wheel',
      along: '-z',
      sides: [{ side: 'front' }],
      sections: [{ along: '+x', at: 500 }],
      dimensions: [{ size: 'width', a: 'g', b: 'g' }],
    });
    expect(d.notes.join(' ')).toContain('No view shows in true length: g: width.'.replace('g:', `${turned().elements[0].name}:`));
    expect(d.notes.join(' ')).toContain('Section A–A shows nothing.');
  });

  it('at a scale that is too large says so and draws no view', async () => {
    const d = await draw(turned(), { name: 'Wheel', scale: '20:1', sides: [{ side: 'front' }] });
    expect(d.notes.join(' ')).toContain('do not fit on A3 at 20:1');
    expect(d.areas).toEqual([]);
  });

  it('goes with its member, and loses the dimensions of what goes', () => {
    const { design } = withDrawing(turned(), { name: 'Wheel', member: 's', dimensions: [{ size: 'width', a: 'g', b: 'g' }] });
    expect(removeItems(design, ['g']).drawings).toMatchObject([{ dimensions: [] }]);
    expect(removeItems(design, ['s']).drawings).toBeUndefined();
    expect(readDesign(design).problems).toBeUndefined();
    const wrong = readDesign({ ...design, drawings: [{ ...design.drawings![0], paper: 'A7' }] });
    expect(wrong.problems?.map((p) => p.message).join()).toMatch(/Paper must be one of: A4, A3, A2, A1/);
  });
});

const demos = readdirSync(new URL('../demo/', import.meta.url)).filter((f) => f.endsWith('.json'));
const demo = (file: string): Design => {
  const read = readDesign(JSON.parse(readFileSync(new URL(`../demo/${file}`, import.meta.url), 'utf8')));
  if (read.problems) throw new Error(file);
  return read.design;
};

describe('every demo as a drawing', () => {
  it.each(demos)('%s: whole, each member, and the train map, all within the border', async (file) => {
    const design = demo(file);
    const { compiled } = analyse(design);
    const all = [
      newDrawing(compiled),
      ...design.members.slice(0, 3).map((m) => newDrawing(compiled, m.id)),
      { name: 'Map', shows: 'train map' as const },
    ];
    for (const one of all) {
      const d = await draw(design, { ...one, paper: 'A2' });
      expect(d.notes.filter((n) => !n.includes('content') && !n.includes('gear data') && !n.includes('no body'))).toEqual([]);
      const { width, height } = d.sheet;
      const inside = (m: Mark): boolean => {
        const [x, y] = m.kind === 'text' ? m.at : m.kind === 'arrow' ? m.tip : m.path.start;
        return x >= 0 && y >= 0 && x <= width && y <= height;
      };
      expect(d.sheet.marks.every(inside)).toBe(true);
      expect(writeSheetSvg(d.sheet)).not.toMatch(/NaN|undefined/);
    }
  });
});

describe('files of a drawing', () => {
  const fonts = Object.fromEntries(Object.entries(PDF_FONTS).map(([k, f]) => [k, readFileSync(require.resolve(f))])) as unknown as PdfFonts;
  const stated = {
    name: 'Wheel',
    hidden: true,
    sides: [{ side: 'front' as const }, { side: 'left' as const }],
    dimensions: [{ size: 'bore' as const, a: 'g', b: 'g' }],
  };

  it('PDF in true size, with texts that can be read', async () => {
    const { sheet } = await draw(turned(), stated);
    const pdf = await readPdf(await writeSheetPdf(sheet, { fonts, date: new Date('2026-11-30') }));
    expect(pdf.sizes[0].map(Math.round)).toEqual([420, 297].map((mm) => Math.round((mm * 72) / 25.4)));
    for (const t of ['Ø12', 'Gear data', 'Date of issue', '2026-11-30']) expect(pdf.pages[0]).toContain(t);
  });

  it('DXF as another program reads it: line types, layers, circles and figures', async () => {
    const d = await draw(turned(), { ...stated, along: '-z', scale: '1:1' });
    const read = new DxfParser().parseSync(writeSheetDxf(d.sheet))!;
    const layers = read.tables.layer.layers as Record<string, { name: string }>;
    expect(Object.keys(layers)).toEqual(expect.arrayContaining(['VISIBLE', 'HIDDEN', 'AXES', 'THIN', 'BORDER', 'TEXT']));
    expect(Object.keys((read.tables as unknown as { lineType: { lineTypes: object } }).lineType.lineTypes)).toEqual(
      expect.arrayContaining(['HIDDEN', 'AXES']),
    );
    const circles = read.entities.filter((e) => e.type === 'CIRCLE') as unknown as { layer: string; radius: number }[];
    expect(circles.filter((c) => c.layer === 'VISIBLE').map((c) => c.radius)).toEqual(expect.arrayContaining([22, 6]));
    // The pitch circle is a chain line: d = 40.
    expect(circles.filter((c) => c.layer === 'AXES').map((c) => c.radius)).toContain(20);
    const written = (read.entities.filter((e) => e.type === 'TEXT') as unknown as { text: string }[]).map((e) => e.text);
    expect(written).toContain('Gear data');
  });
});

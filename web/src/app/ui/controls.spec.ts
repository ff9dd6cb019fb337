import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';

const app = new URL('../', import.meta.url);
/** Templates of the page: files of their own, and those that stand in a component. */
const templates = readdirSync(app, { recursive: true })
  .map(String)
  .filter((f) => /\.(html|ts)$/.test(f) && !f.endsWith('.spec.ts'))
  .map((f): [string, string] => [f, readFileSync(new URL(f, app), 'utf8')]);

/** A tag of the browser's own, by its name. */
const tag = (...names: string[]): RegExp => new RegExp(`<(${names.join('|')})\\b`);

/** Controls that Angular Material has, and how they would look if the browser's own were taken instead. */
const NATIVE: readonly [string, RegExp][] = [
  ['a list to choose from', tag('select')],
  ['a mark', /type="(checkbox|radio)"/],
  ['a slider', /type="range"/],
  ['a bar of progress', tag('progress')],
  ['a panel that opens', tag('details', 'summary')],
  ['a dialog', tag('dialog')],
  ['a tooltip', /<(button|div|span|input|li|td|th|a)\b[^>]*\s\[?(attr\.)?title\]?=/],
];

/**
 * Buttons that are pictures or rows of our own, not words to press: dots of
 * the layout, pictures of joints, steps of the work, wanted outputs, findings.
 */
const OWN = [
  'features/layout/build-bar.ts',
  'ui/joint-chooser.ts',
  'shell/workbench.html',
  'features/deck/crank-deck.html',
  'features/steps/findings.ts',
  'ui/passphrase-field.ts',
];

describe('controls of the page', () => {
  it('has buttons of Material’s, but for those that are our own', () => {
    const bare = templates.filter(([, text]) => [...text.matchAll(/<button\b((?:[^>"]|"[^"]*")*)>/g)].some(([, a]) => !/\bmat[A-Z-]|mat-/.test(a)));
    expect(bare.map(([f]) => f).filter((f) => !OWN.includes(f.replaceAll('\\', '/')))).toEqual([]);
  });
  it('has its tables and its fields from Material', () => {
    const tags = (tag: string): string[] =>
      templates.flatMap(([f, text]) => [...text.matchAll(new RegExp(`<${tag}\\b(?:[^>"]|"[^"]*")*>`, 'g'))].map(([t]) => `${f}: ${t}`));
    expect(tags('table').filter((t) => !/mat-table/.test(t))).toEqual([]);
    expect(tags('textarea').filter((t) => !/matInput/.test(t))).toEqual([]);
    // A slider's thumb, a file that is taken up, and what is typed for
    // a quantity, which is a control of Material's form field itself.
    const own = /matInput|matSliderThumb|type="file"|matChipInputFor/;
    expect(tags('input').filter((t) => !own.test(t) && !t.startsWith('ui/quantity-field.ts'))).toEqual([]);
    // Each of them stands in a form field.
    for (const [f, text] of templates) {
      const fields = text.match(/<mat-form-field\b/g)?.length ?? 0;
      expect([f, (text.match(/\bmatInput\b(?!')/g)?.length ?? 0) <= fields]).toEqual([f, true]);
    }
  });
  it('are found where they are looked for', () => expect(templates.length).toBeGreaterThan(40));
  it.each(NATIVE)('%s is Material’s, not the browser’s', (_, native) => {
    expect(templates.filter(([, text]) => native.test(text)).map(([f]) => f)).toEqual([]);
  });
});

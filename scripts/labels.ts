/**
 * npm run labels : writes docs/labels.md, every word that people read, from where it stands: templates and
 * texts of the page as Angular extracts them, kinds and fields of items, sentences of findings. With --check
 * it writes nothing and fails where the file is old.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  CASE_FIELDS,
  type Field,
  ITEM_FORMS,
  KEPT_RUN_FIELDS,
  ACCEPTED_FIELDS,
  VARIANT_FIELDS,
  DRAWING_FIELDS,
  KEPT_SHEET_FIELDS,
  type ListForm,
  SETTINGS_FIELDS,
  fieldsOfList,
} from '../core/document/index';
import { CATALOGUE } from '../core/findings/catalogue';
import { STAGE_KINDS } from '../core/sizing/index';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const cell = (s: string): string => s.replaceAll('|', '\\|').replaceAll(/\s+/g, ' ').trim();
const row = (...cells: string[]): string => `| ${cells.map(cell).join(' | ')} |`;

/** Texts of the page: Angular's own extraction, each once, in the order of the alphabet. */
function pageTexts(): string[] {
  const folder = mkdtempSync(join(tmpdir(), 'unirota-labels-'));
  try {
    const r = spawnSync(join(root, 'node_modules/.bin/ng'), ['extract-i18n', '--format', 'json', '--output-path', folder], {
      cwd: join(root, 'web'),
      encoding: 'utf8',
      env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
    });
    if (r.status !== 0) throw new Error(`the texts of the page cannot be extracted:\n${r.stdout}\n${r.stderr}`);
    const { translations } = JSON.parse(readFileSync(join(folder, 'messages.json'), 'utf8')) as { translations: Record<string, string> };
    // Tags and values in a text are shown as dots: what is translated are the words between them.
    const texts = Object.values(translations).map((t) => cell(t.replaceAll(/\{\$[A-Z_]+[0-9_]*\}|\{\$\w+\}/g, '…').replaceAll(/(… ?)+/g, '… ')));
    return [...new Set(texts)].filter((t) => /\p{L}/u.test(t)).sort((a, b) => a.localeCompare(b, 'en'));
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const fieldRows = (fields: readonly Field[]): string[] =>
  fields.flatMap((f) => [row(f.label, f.help ?? '', (f.choices ?? []).join(', ')), ...fieldRows(f.columns ?? [])]);
const fieldTable = (title: string, fields: readonly Field[]): string[] =>
  fields.length ? ['', `### ${title}`, '', '| label | help | choices |', '| --- | --- | --- |', ...new Set(fieldRows(fields))] : ['', `### ${title}`];

/** A finding's sentence, with the names of what is put into it. */
const sentence = (says: (p: never) => string): string => says(new Proxy({}, { get: (_, key) => `{${String(key)}}` }) as never);

function text(): string {
  const forms = Object.values<ListForm>(ITEM_FORMS);
  return [
    '# Labels',
    '',
    'Every word that people read. Written by `npm run labels`; CI fails where it is old.',
    '',
    'Texts of the page are marked for `@angular/localize`: `i18n` in templates, which lint asks for, and `$localize` elsewhere. A translation is a file of messages that the build takes up (`ng extract-i18n`, `i18n.locales` in `web/angular.json`). Labels of fields and sentences of findings stand in `core`, each once; a translation of them is a second table by field key or by code.',
    '',
    '## Page',
    '',
    'Values and tags within a text are shown as …',
    '',
    ...pageTexts().map((t) => `- ${t.replaceAll(/([*_<>[\]])/g, '\\$1')}`),
    '',
    '## Stages',
    '',
    '| label | does |',
    '| --- | --- |',
    ...STAGE_KINDS.map((k) => row(k.label, k.does)),
    ...STAGE_KINDS.flatMap((k) => fieldTable(k.label, k.fields)),
    '',
    '## Items',
    ...forms.flatMap((f) => [
      ...fieldTable(`Every ${f.title.toLowerCase()}`, fieldsOfList(f)),
      ...(f.kinds ?? []).flatMap((k) => fieldTable(`${f.title}: ${k.label}`, k.fields ?? [])),
    ]),
    ...fieldTable('Settings', SETTINGS_FIELDS),
    ...fieldTable('Load case', CASE_FIELDS),
    ...fieldTable('Saved run', KEPT_RUN_FIELDS),
    ...fieldTable('Saved load sheet', KEPT_SHEET_FIELDS),
    ...fieldTable('Drawing', DRAWING_FIELDS),
    ...fieldTable('Accepted finding', ACCEPTED_FIELDS),
    ...fieldTable('Variant', VARIANT_FIELDS),
    '',
    '## Findings',
    '',
    '| code | severity | step | sentence |',
    '| --- | --- | --- | --- |',
    ...Object.entries(CATALOGUE).map(([code, e]) => row(`\`${code}\``, e.severity, e.step, sentence(e.says))),
    '',
  ].join('\n');
}

const file = join(root, 'docs/labels.md');
const now = text();
if (!process.argv.includes('--check')) writeFileSync(file, now);
else if (readFileSync(file, 'utf8') !== now) {
  process.stderr.write('docs/labels.md is old: npm run labels writes it\n');
  process.exit(1);
}

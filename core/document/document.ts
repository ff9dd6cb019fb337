import { Field } from '../fields/fields';
import { MEMBER_FIELDS, RUN_FIELDS } from '../fields/common';
import { ITEM_FORMS, type ListForm } from './form';
import { JOINT_STOPS } from './kinds';

const cell = (s: string): string => s.replace(/\|/g, '\\|').replace(/\n/g, ' ');

function limits(f: Field): string {
  const out: string[] = [];
  if (f.required) out.push('required');
  if (f.above !== undefined) out.push(`> ${f.above}`);
  if (f.min !== undefined) out.push(`≥ ${f.min}`);
  if (f.below !== undefined) out.push(`< ${f.below}`);
  if (f.max !== undefined) out.push(`≤ ${f.max}`);
  if (f.least) out.push(`at least ${f.least}`);
  if (f.initial !== undefined) out.push(`else ${f.initial === true ? 'yes' : f.initial === false ? 'no' : f.initial}`);
  return out.join(', ');
}

function what(f: Field): string {
  if (f.kind === 'choice') return f.choices!.map((c) => `“${c}”`).join(' · ');
  if (f.kind === 'exact') return 'number, or exact fraction in quotes';
  if (f.kind === 'ref' || f.kind === 'refs') {
    const to = f.to === 'coordinate' ? 'joint (“j3”, or “j3:1” for its second freedom)' : f.to === 'face' ? 'face (“element:+z”)' : (f.to ?? '');
    return f.kind === 'ref' ? `id of a ${to}` : `list: ids of ${to}`;
  }
  if (f.kind === 'table') return `rows of ${f.columns!.map((c) => `${c.key}${c.unit ? ` (${c.unit})` : ''}`).join(', ')}`;
  return { number: 'number', whole: 'whole number', flag: 'yes or no', text: 'text', vector: '[x, y, z]' }[f.kind as 'number'];
}

const table = (fields: readonly Field[]): string[] =>
  fields.length
    ? [
        '| field | meaning | unit | value | limits |',
        '| --- | --- | --- | --- | --- |',
        ...fields.map(
          (f) => `| \`${f.key}\` | ${cell(f.label)}${f.help ? `. ${cell(f.help)}` : ''} | ${f.unit ?? ''} | ${cell(what(f))} | ${cell(limits(f))} |`,
        ),
      ]
    : ['No fields of its own.'];

/** The design format in words, made from the same lists of fields as the validation (docs/design-format.md). */
export function designFormatText(): string {
  const out: string[] = [
    '# The design format',
    '',
    'One JSON object, version 2 (documents of version 1 are read as well). Written by `npm run schema` from the lists of fields that also make validation, JSON Schema ([design.schema.json](design.schema.json)) and data sheets.',
    'Lengths mm, angles deg, mass kg, force N, torque N·m, speed rev/min or mm/s, time s. Everything is stated where it stands in the reference position, in which every joint coordinate is zero.',
    '',
    '| list | what | besides the fields of its kind |',
    '| --- | --- | --- |',
    '| `format`, `version`, `name`, `note` | “unirota-design”, 2, the design’s name, a remark | |',
    '| `settings` | weight, run, and the units in which the page shows quantities | `gravity` [x, y, z] m/s²; `lengthUnit`, `speedUnit`, `forceUnit`, `torqueUnit`, `powerUnit`, `stressUnit`, `decimals` |',
    '| `members` | rigid moving bodies; the fixed one is called `frame` | `id`, `name`, `at`, `axis`, `up` in the world |',
    '| `joints` | how a member is carried | `id`, `type`, `parent`, `child`, `at`, `axis`, `up` in the child |',
    '| `elements` | what is fastened to a member | `id`, `name`, `type`, `member`, `at`, `axis`, `up` in the member, `colour` |',
    '| `couplings` | what ties motions | `id`, `type` |',
    '| `sources`, `loads`, `wanted` | what drives, what is carried, what is asked for | `id`, `name`, `type` |',
    '| `groups` | stages and whatever else is kept together | `id`, `name`, `items` (ids); of a piece from the shelf `origin`, `originRevision`, `originItems` (`item`, `of`) |',
    '| `cases` | named load cases: loads scaled or left out, and speeds of sources | `id`, `name`, `loads` (`load`, `factor`), `speeds` (`source`, `speed` rev/min or mm/s) |',
    '| `runs` | kept runs: how each is computed | `id`, `name`, `until` (`time`, `turn`, `stop to stop`, `rest`), `duration` s, `frames`, `letGo`, `case`, `starts` (`joint`, `at` deg or mm), `recorded` (`time` s, `value` deg or mm) |',
    '| `sheets` | kept load sheets: of which member, when | `id`, `name`, `member`, `run` and `time` s, or `case` and `starts` (`joint`, `at` deg or mm) |',
    '| `variants` | the design with fields stated otherwise and items left out | `id`, `name`, `changes` (`item`, `field`, `value` as a text), `suppressed` (ids) |',
    '| `accepted` | cautions that are accepted for a reason, until what they depend on changes | `id`, `finding` (code), `items` (ids), `reason`, `person`, `date`, `state` |',
    '| `drawings` | drawings: what each shows, and how; drawn anew wherever they are shown | `id`, `name`, `shows`, `member`, `paper`, `scale`, `angle`, `along`, `sides` (`side`), `sections` (`along`, `at` mm), `teeth`, `hidden`, `overall`, `dimensions` (`size`, `a`, `b`), `gearData`, `starts` (`joint`, `at` deg or mm), `number`, `owner`, `creator`, `approved`, `date` |',
    '| `views` | kept views of the layout | `id`, `name`, `from`, `up`, `target` [x, y, z], `height` mm |',
    '| `quantities` | named quantities; formulas may name them | `id`, `name`, `symbol`, `unit`, `value`, `formula`, `note`, `group` |',
    '| `typed` | expression and unit as a person typed them; one that names a quantity is a formula, and the field holds what it comes to | “id.field” → text |',
    '',
    '## Settings of a run',
    '',
    ...table(RUN_FIELDS),
    '',
    '## Members',
    '',
    ...table(MEMBER_FIELDS),
    '',
    '## Every joint',
    '',
    ...table(JOINT_STOPS),
  ];
  for (const form of Object.values<ListForm>(ITEM_FORMS)) {
    if (!form.kinds) continue;
    out.push('', `## ${form.title}s`);
    for (const k of form.kinds) out.push('', `### ${k.label}: \`${k.type}\``, '', ...table(k.fields ?? []));
  }
  return `${out.join('\n')}\n`;
}

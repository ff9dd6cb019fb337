import Ajv2020 from 'ajv/dist/2020';
import { describe, expect, it } from 'vitest';
import { type Field, LARGEST } from '../fields/fields';
import { RIGS } from '../testing/rigs/index';
import {
  type Design,
  ITEM_FORMS,
  ITEM_LISTS,
  type ListForm,
  OTHER_FORMS,
  OTHER_LISTS,
  compareDesigns,
  designJsonSchema,
  fieldsOfList,
  mergeDesigns,
  readDesign,
} from './index';

const schema = new Ajv2020({ strict: false, logger: false, discriminator: true }).compile(designJsonSchema());
const withItem = (d: Design, list: string, item: object): unknown => ({
  ...d,
  [list]: [...((d as unknown as Record<string, object[]>)[list] ?? []), item],
});

describe('the form of a document', () => {
  const base = RIGS[0].make();
  const forms = Object.entries<ListForm>({ ...ITEM_FORMS, ...OTHER_FORMS });

  it.each(forms)('%s: an item without what its list needs is refused by Yup and by the JSON Schema, each need by name', (list, form) => {
    const needs = fieldsOfList(form).filter((f) => f.required);
    const type = form.kinds?.[0].type;
    const document = withItem(base, list, { id: 'bare', ...(type ? { type } : {}) });
    const { problems } = readDesign(document);
    for (const f of needs) expect(problems!.map((p) => p.message)).toContain(`${f.label} is missing: state it`);
    if (form.named) expect(problems!.map((p) => p.message)).toContain('Name is missing: give it one');
    if (needs.length || form.named) expect(schema(document)).toBe(false);
  });

  it.each(forms)('%s: a field that it has not is refused, and so is an item more than it takes', (list, form) => {
    const strange = withItem(base, list, { id: 'strange', name: 'Strange', ...(form.kinds && { type: form.kinds[0].type }), unheard: 1 });
    expect(readDesign(strange).problems!.some((p) => p.message.includes('has no field unheard'))).toBe(true);
    const accepted = { finding: 'undercut', reason: 'r', state: '0123456789abcdef' };
    const values: Record<string, unknown> = {
      member: 'm',
      items: [],
      from: [0, 0, 1],
      up: [0, 1, 0],
      target: [0, 0, 0],
      height: 1,
      symbol: 'x',
      value: 1,
      ...accepted,
    };
    const stated = Object.fromEntries(
      fieldsOfList(form)
        .filter((f) => f.required && f.key in values)
        .map((f) => [f.key, values[f.key]]),
    );
    const many = { ...base, [list]: Array.from({ length: form.most + 1 }, (_, k) => ({ id: `x${k}`, name: 'X', ...stated })) };
    expect(readDesign(many).problems!.some((p) => p.message.startsWith(`at most ${form.most}`))).toBe(true);
  });

  it.each(forms)('%s: no field promises more than any number may be', (_, form) => {
    const bounds = (fields: readonly Field[]): string[] =>
      fields.flatMap((f) => [
        ...[f.min, f.max, f.above, f.below].filter((x) => x !== undefined && Math.abs(x) > LARGEST).map((x) => `${f.key} ${x}`),
        ...bounds(f.columns ?? []),
      ]);
    const kinds = form.kinds?.flatMap((k) => k.fields ?? []) ?? [];
    expect(bounds([...fieldsOfList(form), ...kinds])).toEqual([]);
  });

  it('is every list of a design, which comparing and merging go over', () => {
    // Every list of the type has a form, or this does not compile.
    type ListOf = { [K in keyof Design]-?: NonNullable<Design[K]> extends readonly object[] ? K : never }[keyof Design];
    const all: Readonly<Record<ListOf, ListForm>> = { ...ITEM_FORMS, ...OTHER_FORMS };
    expect(Object.keys(all)).toEqual([...ITEM_LISTS, ...OTHER_LISTS]);
    for (const list of OTHER_LISTS) {
      const mine = { ...base, [list]: [{ id: 'n1', name: 'New', items: [] }] } as unknown as Design;
      expect(compareDesigns(base, mine).map((x) => x.what)).toContain(`${OTHER_FORMS[list].title}s`);
      expect(mergeDesigns(base, mine, base).design[list]).toHaveLength(list === 'groups' ? 0 : 1);
    }
  });

  it('a member, a load or an item is named by its id alone; a freedom and a face with what is meant of them', () => {
    const [joint] = base.joints;
    const named = (parent: string): unknown => ({ ...base, joints: [{ ...joint, parent }, ...base.joints.slice(1)] });
    for (const bad of ['frame:1', 'frame:+z', 'fr ame', '']) {
      expect(readDesign(named(bad)).problems?.[0].path).toBe('joints[0].parent');
      expect(schema(named(bad))).toBe(false);
    }
    const driven = { ...base.sources[0], joint: `${base.joints[0].id}:0` };
    expect(readDesign({ ...base, sources: [driven] }).problems).toBeUndefined();
  });
});

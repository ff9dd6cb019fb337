import { SETTINGS_FIELDS } from '../fields/common';
import { type Field, ID_PATTERN, LARGEST, mostOf, patternOf } from '../fields/fields';
import { DESIGN_FORMAT, DESIGN_VERSION, FRAME } from '../fields/types';
import { LONGEST_EXACT } from '../math/index';
import { ITEM_FORMS, ITEM_LISTS, LONGEST, type ListForm, OTHER_FORMS, fieldsOfList } from './form';
import { NO_LENGTH } from './schema';

type Json = Record<string, unknown>;
/** How a field is said in a schema: the published one in plain JSON Schema, a program's own otherwise. */
export type FieldInSchema = (f: Field) => Json;

const vector = (least = -LARGEST): Json => ({
  type: 'array',
  items: { type: 'number', minimum: least, maximum: LARGEST },
  minItems: 3,
  maxItems: 3,
});
/** A value that states nothing. */
const UNSTATED: Json = { anyOf: [{ type: 'null' }, { type: 'string', pattern: '^\\s*$' }] };
/** A number in quotes: it has a digit at least. */
const DECIMAL = '\\s*[+-]?([0-9]+\\.?[0-9]*|\\.[0-9]+)([eE][+-]?[0-9]{1,3})?\\s*';
const ID: Json = { type: 'string', pattern: ID_PATTERN.source, not: { const: FRAME } };

/** A field as published: where it may be left open, a null, an empty string or a blank leaves it open as well. */
const publishedField: FieldInSchema = (f) => {
  const { description, default: initial, ...stated } = statedField(f);
  const base = { description, ...(initial === undefined ? {} : { default: initial }) };
  return f.required ? { ...base, ...stated } : { ...base, anyOf: [stated, ...(UNSTATED['anyOf'] as Json[])] };
};

const statedField = (f: Field): Json => {
  const words = [f.label, f.unit ? `in ${f.unit}` : '', f.help ?? ''].filter(Boolean).join('. ');
  const bounds: Json = { minimum: -LARGEST, maximum: LARGEST };
  if (f.min !== undefined) bounds.minimum = f.min;
  if (f.max !== undefined) bounds.maximum = f.max;
  if (f.above !== undefined) bounds.exclusiveMinimum = f.above;
  if (f.below !== undefined) bounds.exclusiveMaximum = f.below;
  const base: Json = { description: words };
  if (f.initial !== undefined) base.default = f.initial;
  switch (f.kind) {
    case 'whole':
      return { ...base, type: 'integer', ...bounds };
    case 'number':
      return { ...base, type: 'number', ...bounds };
    case 'exact':
      return {
        ...base,
        anyOf: [
          { type: 'number', ...bounds },
          {
            type: 'string',
            maxLength: LONGEST_EXACT,
            pattern: `^${DECIMAL}(/${DECIMAL})?$`,
          },
        ],
      };
    case 'choice':
      return { ...base, enum: f.choices };
    case 'flag':
      return { ...base, type: 'boolean' };
    case 'text':
      return { ...base, type: 'string', maxLength: mostOf(f), ...(f.pattern && { pattern: f.pattern.source }) };
    case 'vector':
      return { ...base, ...vector(f.min), ...(f.direction ? { not: { items: { minimum: -NO_LENGTH, maximum: NO_LENGTH } } } : {}) };
    case 'ref':
      return { ...base, type: 'string', pattern: patternOf(f).source };
    case 'refs':
      return { ...base, type: 'array', minItems: f.least ?? 0, maxItems: mostOf(f), items: { type: 'string', pattern: patternOf(f).source } };
    case 'table':
      return {
        ...base,
        type: 'array',
        minItems: f.least ?? 0,
        maxItems: mostOf(f),
        items: object(Object.fromEntries(f.columns!.map((c) => [c.key, publishedField(c)])), needed(f.columns)),
      };
  }
};

const object = (properties: Json, required: string[]): Json => ({ type: 'object', properties, required, additionalProperties: false });
const needed = (fields: readonly Field[] = []): string[] => fields.filter((f) => f.required).map((f) => f.key);
const PRINTED = '[^\\u0000-\\u001f\\u007f]';
const NAME: Json = { type: 'string', minLength: 1, maxLength: LONGEST.name, pattern: `^${PRINTED}*[^\\s\\u0000-\\u001f\\u007f]${PRINTED}*$` };
const MAY_NAME: Json = { anyOf: [{ type: 'string', maxLength: LONGEST.name, pattern: `^${PRINTED}*$` }, ...(UNSTATED['anyOf'] as Json[])] };

/**
 * The JSON Schema (2020-12) of the design document, made from the same lists of fields as the
 * validation. With another `ofField` the same structure about other words for the fields.
 */
export function designJsonSchema(ofField: FieldInSchema = publishedField): Json {
  const fieldsOf = (fields: readonly Field[] = []): Json => Object.fromEntries(fields.map((f) => [f.key, ofField(f)]));
  /** One item: of any of its list's kinds. */
  const item = (form: ListForm): Json => {
    const common = { id: ID, name: form.named ? NAME : MAY_NAME, ...fieldsOf(fieldsOfList(form)) };
    const required = ['id', ...(form.named ? ['name'] : []), ...needed(fieldsOfList(form))];
    if (!form.kinds) return object(common, required);
    return {
      type: 'object',
      discriminator: { propertyName: 'type' },
      required: ['type'],
      oneOf: form.kinds.map((k) => ({
        title: k.label,
        ...object({ ...common, type: { const: k.type }, ...fieldsOf(k.fields) }, [...required, 'type', ...needed(k.fields)]),
      })),
    };
  };
  const list = (form: ListForm): Json => ({ type: 'array', items: item(form), maxItems: form.most });
  const each = (forms: Readonly<Record<string, ListForm>>, of: (form: ListForm) => Json): Json =>
    Object.fromEntries(Object.entries(forms).map(([key, form]) => [key, of(form)]));
  const orNull = (stated: Json): Json => ({ anyOf: [stated, { type: 'null' }] });
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: `Unirota design, version ${DESIGN_VERSION}`,
    description:
      'Lengths mm, angles deg, mass kg, force N, torque N·m, speed rev/min or mm/s, time s. Everything is stated where it stands in the reference position, in which every joint coordinate is zero. No two items of the lists from members to wanted have one id.',
    ...object(
      {
        format: { const: DESIGN_FORMAT },
        version: { const: DESIGN_VERSION },
        name: { ...NAME, pattern: `^(?!\\s)${PRINTED}*[^\\s\\u0000-\\u001f\\u007f]$` },
        note: orNull({ type: 'string', maxLength: LONGEST.note }),
        settings: orNull(object(fieldsOf(SETTINGS_FIELDS), [])),
        ...each(ITEM_FORMS, list),
        ...each(OTHER_FORMS, (form) => orNull(list(form))),
        typed: orNull({
          type: 'object',
          maxProperties: LONGEST.typedEntries,
          additionalProperties: { type: 'string', maxLength: LONGEST.typed },
        }),
      },
      ['format', 'version', 'name', ...ITEM_LISTS],
    ),
  };
}

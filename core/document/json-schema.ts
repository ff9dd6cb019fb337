import { COUPLING_KINDS } from '../couplings/index';
import { ELEMENT_KINDS } from '../elements/index';
import { JOINT_KINDS } from '../joints/index';
import { LONGEST_EXACT } from '../math/index';
import { Field, LARGEST, MOST_ITEMS, mostOf } from '../fields/fields';
import { LOAD_KINDS } from '../loads/index';
import {
  CASE_FIELDS,
  KEPT_RUN_FIELDS,
  KEPT_SHEET_FIELDS,
  ELEMENT_FIELDS,
  JOINT_FIELDS,
  MEMBER_FIELDS,
  PLACE_FIELDS,
  SETTINGS_FIELDS,
  SOURCE_KINDS,
  VIEW_FIELDS,
  WANTED_KINDS,
} from './kinds';
import { NO_LENGTH } from './schema';
import { DESIGN_FORMAT, DESIGN_VERSION, FRAME } from '../fields/types';

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
const REFERS = '^[A-Za-z0-9_-]{1,64}(:([0-9]|[+-][xyz]))?$';
const REFERENCE: Json = { type: 'string', pattern: '^[A-Za-z0-9_-]{1,64}$' };
const ID: Json = { ...REFERENCE, not: { const: FRAME } };

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
      return { ...base, type: 'string', maxLength: mostOf(f) };
    case 'vector':
      return { ...base, ...vector(f.min), ...(f.direction ? { not: { items: { minimum: -NO_LENGTH, maximum: NO_LENGTH } } } : {}) };
    case 'ref':
      return { ...base, type: 'string', pattern: REFERS };
    case 'refs':
      return { ...base, type: 'array', minItems: f.least ?? 0, maxItems: mostOf(f), items: { type: 'string', pattern: REFERS } };
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
const NAME: Json = { type: 'string', minLength: 1, maxLength: 120, pattern: `^${PRINTED}*[^\\s\\u0000-\\u001f\\u007f]${PRINTED}*$` };
const MAY_NAME: Json = { anyOf: [{ type: 'string', maxLength: 120, pattern: `^${PRINTED}*$` }, ...(UNSTATED['anyOf'] as Json[])] };

/**
 * The JSON Schema (2020-12) of the design document, made from the same lists of fields as the
 * validation. With another `ofField` the same structure about other words for the fields.
 */
export function designJsonSchema(ofField: FieldInSchema = publishedField): Json {
  const fieldsOf = (fields: readonly Field[] = []): Json => Object.fromEntries(fields.map((f) => [f.key, ofField(f)]));
  const array = (items: Json, maxItems = MOST_ITEMS): Json => ({ type: 'array', items, maxItems });
  const list = (properties: Json, fields: readonly Field[], required: string[], maxItems = MOST_ITEMS): Json =>
    array(object({ ...properties, ...fieldsOf(fields) }, [...required, ...needed(fields)]), maxItems);
  const byType = (kinds: readonly { type: string; label: string; fields?: readonly Field[] }[], common: Json, required: string[]): Json =>
    array({
      type: 'object',
      discriminator: { propertyName: 'type' },
      required: ['type'],
      oneOf: kinds.map((k) => ({
        title: k.label,
        ...object({ ...common, type: { const: k.type }, ...fieldsOf(k.fields) }, [...required, 'type', ...needed(k.fields)]),
      })),
    });
  const place = fieldsOf(PLACE_FIELDS);
  const named = { id: ID, name: NAME };
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Unirota design, version 2',
    description:
      'Lengths mm, angles deg, mass kg, force N, torque N·m, speed rev/min or mm/s, time s. Everything is stated where it stands in the reference position, in which every joint coordinate is zero. No two items of the lists from members to wanted have one id.',
    ...object(
      {
        format: { const: DESIGN_FORMAT },
        version: { const: DESIGN_VERSION },
        name: { ...NAME, pattern: `^(?!\\s)${PRINTED}*[^\\s\\u0000-\\u001f\\u007f]$` },
        note: { anyOf: [{ type: 'string', maxLength: 20_000 }, { type: 'null' }] },
        settings: { anyOf: [object(fieldsOf(SETTINGS_FIELDS), []), { type: 'null' }] },
        members: list({ ...named, ...place }, MEMBER_FIELDS, ['id', 'name']),
        joints: byType(JOINT_KINDS, { id: ID, name: MAY_NAME, parent: REFERENCE, child: REFERENCE, ...place, ...fieldsOf(JOINT_FIELDS) }, [
          'id',
          'parent',
          'child',
        ]),
        elements: byType(ELEMENT_KINDS, { ...named, member: REFERENCE, ...place, ...fieldsOf(ELEMENT_FIELDS) }, ['id', 'name', 'member']),
        couplings: byType(COUPLING_KINDS, { id: ID, name: MAY_NAME }, ['id']),
        sources: byType(SOURCE_KINDS, named, ['id', 'name']),
        loads: byType(LOAD_KINDS, named, ['id', 'name']),
        wanted: byType(WANTED_KINDS, named, ['id', 'name']),
        groups: { anyOf: [list({ ...named, items: array(REFERENCE) }, [], ['id', 'name', 'items'], 2000), { type: 'null' }] },
        cases: { anyOf: [list(named, CASE_FIELDS, ['id', 'name'], 50), { type: 'null' }] },
        runs: { anyOf: [list(named, KEPT_RUN_FIELDS, ['id', 'name'], 200), { type: 'null' }] },
        sheets: { anyOf: [list(named, KEPT_SHEET_FIELDS, ['id', 'name'], 200), { type: 'null' }] },
        views: { anyOf: [list(named, VIEW_FIELDS, ['id', 'name'], 200), { type: 'null' }] },
        typed: { anyOf: [{ type: 'object', maxProperties: 20_000, additionalProperties: { type: 'string', maxLength: 200 } }, { type: 'null' }] },
      },
      ['format', 'version', 'name', 'members', 'joints', 'elements', 'couplings', 'sources', 'loads', 'wanted'],
    ),
  };
}

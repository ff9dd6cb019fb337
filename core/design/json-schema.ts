import { COUPLING_KINDS } from '../couplings/index';
import { ELEMENT_KINDS } from '../elements/index';
import { JOINT_KINDS } from '../joints/index';
import { Field } from './fields';
import { JOINT_FIELDS, LOAD_KINDS, SOURCE_KINDS, WANTED_KINDS } from './kinds';
import { MEMBER_FIELDS, RUN_FIELDS } from './schema';
import { DESIGN_FORMAT, DESIGN_VERSION } from './types';

type Json = Record<string, unknown>;

const VECTOR: Json = { type: 'array', items: { type: 'number' }, minItems: 3, maxItems: 3 };
const ID: Json = { type: 'string', pattern: '^[A-Za-z0-9_-]{1,64}$' };

function ofField(f: Field): Json {
  const words = [f.label, f.unit ? `in ${f.unit}` : '', f.help ?? ''].filter(Boolean).join('. ');
  const bounds: Json = {};
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
          { type: 'string', pattern: '^[+-]?[0-9]*\\.?[0-9]*(e[+-]?[0-9]{1,3})?(/[+-]?[0-9]*\\.?[0-9]*(e[+-]?[0-9]{1,3})?)?$' },
        ],
      };
    case 'choice':
      return { ...base, enum: f.choices };
    case 'flag':
      return { ...base, type: 'boolean' };
    case 'text':
      return { ...base, type: 'string', maxLength: 2000 };
    case 'vector':
      return { ...base, ...VECTOR };
    case 'ref':
      return { ...base, type: 'string', pattern: '^[A-Za-z0-9_-]{1,64}(:[0-9])?$' };
    case 'refs':
      return { ...base, type: 'array', minItems: f.least ?? 0, items: { type: 'string' } };
    case 'table':
      return {
        ...base,
        type: 'array',
        minItems: f.least ?? 0,
        items: {
          type: 'object',
          properties: Object.fromEntries(f.columns!.map((c) => [c.key, ofField(c)])),
          required: f.columns!.filter((c) => c.required).map((c) => c.key),
        },
      };
  }
}

const object = (properties: Json, required: string[]): Json => ({ type: 'object', properties, required, additionalProperties: false });
const fieldsOf = (fields: readonly Field[] = []): Json => Object.fromEntries(fields.map((f) => [f.key, ofField(f)]));
const needed = (fields: readonly Field[] = []): string[] => fields.filter((f) => f.required).map((f) => f.key);
const PLACE: Json = {
  at: { ...VECTOR, description: 'Origin, mm: of a member in the world, of an element or a joint in its member.' },
  axis: { ...VECTOR, description: 'Direction of the local z axis.' },
  up: { ...VECTOR, description: 'Direction near which the local x axis lies.' },
};
const byType = (kinds: readonly { type: string; label: string; fields?: readonly Field[] }[], common: Json, required: string[]): Json => ({
  oneOf: kinds.map((k) => ({
    title: k.label,
    ...object({ ...common, type: { const: k.type }, ...fieldsOf(k.fields) }, [...required, 'type', ...needed(k.fields)]),
  })),
});
const NAME: Json = { type: 'string', minLength: 1, maxLength: 120 };

/** The JSON Schema (2020-12) of the design document, made from the same lists of fields as the validation. */
export function designJsonSchema(): Json {
  const array = (items: Json): Json => ({ type: 'array', items });
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Unirota design, version 1',
    description:
      'Lengths mm, angles deg, mass kg, force N, torque N·m, speed rev/min or mm/s, time s. Everything is stated where it stands in the reference position, in which every joint coordinate is zero.',
    ...object(
      {
        format: { const: DESIGN_FORMAT },
        version: { const: DESIGN_VERSION },
        name: NAME,
        note: { type: 'string' },
        settings: object({ gravity: { ...VECTOR, description: 'Acceleration of weight, m/s².' }, ...fieldsOf(RUN_FIELDS) }, []),
        members: array(object({ id: ID, name: NAME, ...PLACE, ...fieldsOf(MEMBER_FIELDS) }, ['id', 'name', 'kind'])),
        joints: array(
          byType(JOINT_KINDS, { id: ID, name: { type: 'string', maxLength: 120 }, parent: ID, child: ID, ...PLACE, ...fieldsOf(JOINT_FIELDS) }, [
            'id',
            'parent',
            'child',
          ]),
        ),
        elements: array(byType(ELEMENT_KINDS, { id: ID, name: NAME, member: ID, ...PLACE }, ['id', 'name', 'member'])),
        couplings: array(byType(COUPLING_KINDS, { id: ID, name: { type: 'string', maxLength: 120 } }, ['id'])),
        sources: array(byType(SOURCE_KINDS, { id: ID, name: NAME }, ['id', 'name'])),
        loads: array(byType(LOAD_KINDS, { id: ID, name: NAME }, ['id', 'name'])),
        wanted: array(byType(WANTED_KINDS, { id: ID, name: NAME }, ['id', 'name'])),
        groups: array(object({ id: ID, name: NAME, items: array(ID) }, ['id', 'name', 'items'])),
        views: array(
          object({ id: ID, name: NAME, from: VECTOR, up: VECTOR, target: VECTOR, height: { type: 'number', exclusiveMinimum: 0 } }, [
            'id',
            'name',
            'from',
            'up',
            'target',
            'height',
          ]),
        ),
        typed: { type: 'object', additionalProperties: { type: 'string', maxLength: 200 } },
      },
      ['format', 'version', 'name', 'members', 'joints', 'elements', 'couplings', 'sources', 'loads', 'wanted'],
    ),
  };
}

import Ajv2020 from 'ajv/dist/2020';
import { ITEM_LISTS, costProblem, sharedId, designJsonSchema, fieldProblem, type Field } from '@unirota/core/document';

/**
 * A check compiled from the same lists of fields as the Yup schema, which waves good documents
 * through fast: the structure is the published JSON Schema's, and each field is asked by the
 * same function that Yup asks. Where it says no, Yup looks again and gives the messages.
 */
export function compileQuickCheck(): (document: unknown) => boolean {
  const ajv = new Ajv2020({ strict: false, discriminator: true, unicode: false, logger: false, validateFormats: false });
  ajv.addKeyword({
    keyword: 'asField',
    errors: false,
    compile: (f: Field) => (value: unknown) => fieldProblem(f, value) === undefined,
  });
  ajv.addKeyword({
    keyword: 'ownIds',
    type: 'array',
    errors: false,
    validate: (_: boolean, items: { id?: unknown }[]) => new Set(items.map((x) => x?.id)).size === items.length,
  });
  const schema = designJsonSchema((field) => ({ asField: field }));
  const properties = schema['properties'] as Record<string, Record<string, unknown>>;
  for (const list of ITEM_LISTS) properties[list]['ownIds'] = true;
  const check = ajv.compile(schema);
  return (document) =>
    typeof document === 'object' && document !== null && costProblem(document) === undefined && check(document) && sharedId(document) === undefined;
}

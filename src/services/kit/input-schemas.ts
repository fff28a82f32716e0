import { targetConstructorToSchema, validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { toJson } from '@/db/kit/json';
import { defaultMetadataStorage } from './validation';

const POINTER = '#/components/schemas/';

const OPTIONS: Parameters<typeof validationMetadatasToSchemas>[0] = {
  classTransformerMetadataStorage: defaultMetadataStorage,
  refPointerPrefix: POINTER,
  additionalConverters: {
    isFilled: { type: 'string', minLength: 1 },
    isInstant: { type: 'string', format: 'date-time' },
    // Not "one of": formats are only notes (JSON Schema 2020-12, 7.2.1), so any text would be both.
    isIso8601: {
      anyOf: [
        { type: 'string', format: 'date' },
        { type: 'string', format: 'date-time' },
      ],
    },
  },
};

interface Schema {
  properties?: Record<string, object>;
  required?: string[];
}
type Schemas = Record<string, Schema>;

/** What may be left out may be null: class-validator takes both, and null is how a field is emptied. */
const withNulls = ({ properties = {}, ...schema }: Schema): Schema => ({
  ...schema,
  properties: Object.fromEntries(
    Object.entries(properties).map(([name, value]) => [
      name,
      schema.required?.includes(name) ? value : { anyOf: [value, { type: 'null' }] },
    ]),
  ),
});

/** JSON Schemas of these input classes and of the classes within them, by name. */
export function inputSchemas(classes: readonly (new () => object)[]): Schemas {
  const known = validationMetadatasToSchemas(OPTIONS) as Schemas;
  const schemas: Schemas = {};
  const add = (name: string, schema: Schema) => {
    if (name in schemas) return;
    schemas[name] = withNulls(schema);
    for (const [, within] of toJson(schema).matchAll(new RegExp(`"${POINTER}(\\w+)"`, 'g')))
      add(within!, known[within!]!);
  };
  // A class with no rule beyond those it inherits is none of the known.
  for (const one of classes)
    add(one.name, known[one.name] ?? (targetConstructorToSchema(one, OPTIONS) as Schema));
  return schemas;
}

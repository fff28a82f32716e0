import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { defaultMetadataStorage } from './validation';

/** JSON Schemas of every input class, by name. */
export const inputSchemas = (): Record<string, object> =>
  validationMetadatasToSchemas({
    classTransformerMetadataStorage: defaultMetadataStorage,
    refPointerPrefix: '#/components/schemas/',
    additionalConverters: {
      isFilled: { type: 'string', minLength: 1 },
      isInstant: { type: 'string', format: 'date-time' },
    },
  }) as Record<string, object>;

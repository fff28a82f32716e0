import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { defaultMetadataStorage } from './validation';
import './inputs';
import './people-inputs';

/** JSON Schemas of every input class, by name. */
export const inputSchemas = (): Record<string, object> =>
  validationMetadatasToSchemas({
    classTransformerMetadataStorage: defaultMetadataStorage,
    refPointerPrefix: '#/components/schemas/',
  }) as Record<string, object>;

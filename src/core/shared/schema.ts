import { Ajv, type AnySchema, type Options, type ValidateFunction } from 'ajv';
import { once } from './once';

/** What tells whether data is as a JSON schema says, and what is not. Compiling takes up to a tenth of a second: not before the first is asked. */
export const checkBy = <T>(schema: AnySchema, options: Options = {}): (() => ValidateFunction<T>) =>
  once(() => new Ajv({ allErrors: true, strictTypes: false, ...options }).compile<T>(schema));

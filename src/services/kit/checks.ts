import { parseInstant } from '@/core/shared/instant';
import { ValidateBy, type ValidationOptions } from './validation';

/** Checks of our own beside the library's. */

/** Text that holds more than blanks. */
export const IsFilled = (options: ValidationOptions): PropertyDecorator =>
  ValidateBy(
    {
      name: 'isFilled',
      validator: { validate: (value: unknown) => typeof value === 'string' && value.trim() !== '' },
    },
    options,
  );

/** An instant that exists. */
export const IsInstant = (): PropertyDecorator =>
  ValidateBy(
    {
      name: 'isInstant',
      validator: { validate: (value: unknown) => typeof value === 'string' && parseInstant(value) !== null },
    },
    {
      message: 'must be an instant in ISO 8601 with an offset, such as 2026-11-24T10:10:00-07:00.',
    },
  );

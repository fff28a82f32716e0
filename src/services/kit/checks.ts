import { parseInstant } from '@/core/shared/instant';
import { tooLong } from './inputs';
import { IsInt, IsString, MaxLength, Min, ValidateBy, type ValidationOptions } from './validation';

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

/** The stamp of a row as it was read: when somebody saved since, nothing is overwritten. */
export const IsStamp =
  (message = 'must be the stamp that was read.'): PropertyDecorator =>
  (target, property) => {
    Min(0, { message })(target, property);
    IsInt({ message })(target, property);
  };

const LONGEST_CONDITION = 50_000;

/** A condition as JSON text; what it says is read by `readCondition`. */
export const IsCondition = (): PropertyDecorator => (target, property) => {
  MaxLength(LONGEST_CONDITION, tooLong(LONGEST_CONDITION))(target, property);
  IsString({ message: 'must be a condition as JSON text.' })(target, property);
};

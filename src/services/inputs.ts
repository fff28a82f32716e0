import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  Type,
  ValidateNested,
} from './kit/validation';
import { IsFilled, IsInstant } from './kit/checks';

/** What the outside may send. The OpenAPI document is made from these classes. */

const LONGEST_TEXT = 1_600;
export const tooLong = (most: number) => ({ message: `is too long: at most ${most} characters.` });
const words = (example: string) => ({ message: `must be text, such as "${example}".` });
export class AddressInput {
  @IsOptional()
  @Matches(/^[A-Z]{2}$/, { message: 'must be a two-letter state, such as CO.' })
  region?: string;

  @IsOptional()
  @Matches(/^\d{5}(-\d{4})?$/, { message: 'must be a ZIP code, such as 81201.' })
  postal_code?: string;
}

export class ConsentInput {
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program!: string;

  @IsString(words('I agree to get texts about the night sky.'))
  @IsFilled({ message: 'must say which words the person agreed to.' })
  @MaxLength(2_000, tooLong(2_000))
  wording!: string;

  @IsOptional()
  @IsString(words('paper form at the desk'))
  @MaxLength(200, tooLong(200))
  source?: string;

  @IsOptional()
  @IsInstant()
  obtained_at?: string;
}

export class CreatePersonInput {
  @IsString({ message: 'must be a phone number as text, such as "(303) 555-0123".' })
  @MaxLength(40, tooLong(40))
  number!: string;

  @IsOptional()
  @IsString(words('Ana'))
  @MaxLength(120, tooLong(120))
  first_name?: string;

  @IsOptional()
  @IsString(words('Ortiz'))
  @MaxLength(120, tooLong(120))
  last_name?: string;

  @IsOptional()
  @IsEmail({}, { message: 'must be an e-mail address, such as ana@example.org.' })
  email?: string;

  @IsOptional()
  @Matches(/^[A-Z]{2}$/, { message: 'must be a two-letter state, such as CO.' })
  region?: string;

  @IsOptional()
  @Matches(/^\d{5}(-\d{4})?$/, { message: 'must be a ZIP code, such as 81201.' })
  postal_code?: string;

  @IsOptional()
  @IsString(words('America/Denver'))
  @MaxLength(60, tooLong(60))
  zone?: string;

  @IsOptional()
  @IsObject({ message: 'must be an object of field names and texts.' })
  fields?: Record<string, string>;

  @IsOptional()
  @IsObject({ message: 'must be an object with program and wording.' })
  @ValidateNested()
  @Type(() => ConsentInput)
  consent?: ConsentInput;
}

export class PromiseInput {
  @IsInt({ message: 'must be a whole number, such as 6.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(100, { message: 'must be at most 100.' })
  count!: number;

  @IsIn(['week', 'month'], { message: 'must be week or month.' })
  period!: 'week' | 'month';
}

export class HoursInput {
  @IsArray({ message: 'must be a list of weekdays, 1 for Monday to 7 for Sunday.' })
  @ArrayMaxSize(7, { message: 'holds more than seven weekdays.' })
  @ArrayUnique({ message: 'names a weekday twice.' })
  @ArrayMinSize(1, { message: 'names no weekday: leave hours out for every day.' })
  @IsInt({ each: true, message: 'must be a list of weekdays, 1 for Monday to 7 for Sunday.' })
  @Min(1, { each: true, message: 'must be a list of weekdays, 1 for Monday to 7 for Sunday.' })
  @Max(7, { each: true, message: 'must be a list of weekdays, 1 for Monday to 7 for Sunday.' })
  days!: number[];

  @Matches(/^([01]\d|2[0-3]):[0-5]\d$/, { message: 'must be a time of day, such as 10:00.' })
  from!: string;

  @Matches(/^([01]\d|2[0-3]):[0-5]\d$/, { message: 'must be a time of day, such as 18:00.' })
  to!: string;
}

export class CreateProgramInput {
  @IsString(words('Clear Sky Alerts'))
  @IsFilled({ message: 'must not be empty: name what people agree to.' })
  @MaxLength(80, tooLong(80))
  name!: string;

  @IsIn(['marketing', 'recurring', 'utility', 'inquiry'], {
    message: 'must be marketing, recurring, utility or inquiry.',
  })
  purpose!: 'marketing' | 'recurring' | 'utility' | 'inquiry';

  @IsOptional()
  @IsObject({ message: 'must be an object with count and period.' })
  @ValidateNested()
  @Type(() => PromiseInput)
  promise?: PromiseInput;

  @IsOptional()
  @IsString(words('You are in!'))
  @MaxLength(300, tooLong(300))
  welcome?: string;

  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  double_opt_in?: boolean;

  @IsOptional()
  @IsObject({ message: 'must be an object with days, from and to.' })
  @ValidateNested()
  @Type(() => HoursInput)
  hours?: HoursInput;

  /** Sender numbers by id or number; left out: all registered ones of the workspace. */
  @IsOptional()
  @IsArray({ message: 'must be a list of sender numbers.' })
  @ArrayMaxSize(100, { message: 'holds more than 100 numbers.' })
  @IsString({ each: true, message: 'must be a list of sender numbers.' })
  sender_numbers?: string[];
}

export class CreateKeywordInput {
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program!: string;

  @IsString(words('SKY'))
  @MaxLength(200, tooLong(200))
  word!: string;
}

export class CreateBroadcastInput {
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program!: string;

  @IsString(words('Saturn week'))
  @IsFilled({ message: 'must not be empty: the name is how you find it again.' })
  @MaxLength(120, tooLong(120))
  name!: string;

  /** Unicode MessageFormat 2. */
  @IsString(words('Saturn is up tonight.'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(LONGEST_TEXT, tooLong(LONGEST_TEXT))
  body!: string;

  /** A condition as JSON text: who is meant. Left out: everybody of the program. */
  @IsOptional()
  @IsString({ message: 'must be a condition as JSON text.' })
  @MaxLength(50_000, tooLong(50_000))
  audience?: string;
}

export class SendBroadcastInput {
  /** Left out: now. */
  @IsOptional()
  @IsInstant()
  at?: string;

  /** A pause in which it can be called back, for a send "now". */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of seconds.' })
  @Min(0, { message: 'must be 0 or more.' })
  @Max(3_600, { message: 'must be at most 3600.' })
  grace_seconds?: number;
}

export class TextBodyInput {
  @IsString({ message: 'must be text.' })
  @MaxLength(LONGEST_TEXT, tooLong(LONGEST_TEXT))
  body!: string;
}

export class ClearanceCheckInput {
  @IsOptional()
  @IsString({ message: 'must be a phone number as text, such as "+13035550123".' })
  @MaxLength(40, tooLong(40))
  number?: string;

  @IsOptional()
  @IsString({ message: 'must be the id of a person.' })
  @MaxLength(60, tooLong(60))
  person_id?: string;

  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program!: string;

  @IsOptional()
  @IsString({ message: 'must be text.' })
  @MaxLength(LONGEST_TEXT, tooLong(LONGEST_TEXT))
  body?: string;

  @IsInstant()
  at!: string;

  @IsOptional()
  @IsObject({ message: 'must be an object with region and postal_code.' })
  @ValidateNested()
  @Type(() => AddressInput)
  address?: AddressInput;
}

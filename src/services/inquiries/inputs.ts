import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from '@/services/kit/validation';
import { IsStamp, IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';

export class NewSourceInput {
  @IsString(words('Night Sky Guide'))
  @IsFilled({ message: 'must not be empty: name the source.' })
  @MaxLength(80, tooLong(80))
  name!: string;

  /** The program an inquiry belongs to, by id or name. */
  @IsString(words('School & Group Visits'))
  @MaxLength(80, tooLong(80))
  program!: string;
}

/** What changes of a source; what is left out stays. */
export class ChangeSourceInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsStamp()
  stamp!: number;

  @IsOptional()
  @IsString(words('Night Sky Guide'))
  @IsFilled({ message: 'must not be empty: name the source.' })
  @MaxLength(80, tooLong(80))
  name?: string;

  @IsOptional()
  @IsString(words('School & Group Visits'))
  @MaxLength(80, tooLong(80))
  program?: string;

  /** How what comes is read: `{ rules, kinds, otherKind }`. */
  @IsOptional()
  @IsObject({ message: 'must be a mapping: { rules: […], kinds: […], otherKind: "…" }.' })
  mapping?: object;

  /** To whom it is given: `{ keepsOwner, kinds, by, among, onlyOnDuty }`. */
  @IsOptional()
  @IsObject({ message: 'must be { keepsOwner, kinds, by, among, onlyOnDuty }.' })
  assignment?: object;

  @IsOptional()
  @IsIn(['nothing', 'standard', 'header'], { message: 'must be "nothing", "standard" or "header".' })
  signs?: 'nothing' | 'standard' | 'header';

  @IsOptional()
  @IsString(words('x-portal-signature'))
  @MaxLength(80, tooLong(80))
  sign_header?: string;

  /** Domains that a letter must provably come from (DKIM or SPF); empty: from anybody. */
  @IsOptional()
  @IsArray({ message: 'must be a list of domains.' })
  @ArrayMaxSize(20, { message: 'holds more than 20.' })
  @IsString({ each: true, message: 'must be a list of domains.' })
  @MaxLength(253, { each: true, message: 'must be a list of domains.' })
  letters_from?: string[];

  /** The words beside the box that people tick there; empty: there is none. */
  @IsOptional()
  @IsString(words('I agree to texts about my inquiry and other evenings'))
  @MaxLength(600, tooLong(600))
  wording?: string;

  /** What one inquiry costs, in hundredths of the currency; null: not entered. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of hundredths, or null.' })
  @Min(0, { message: 'must not be below 0.' })
  @Max(10_000_000, { message: 'is more than any inquiry costs.' })
  cost_cents?: number | null;

  /** All tags and lists it gives, by id. */
  @IsOptional()
  @IsArray({ message: 'must be a list of ids of tags and lists.' })
  @ArrayMaxSize(20, { message: 'holds more than 20.' })
  @ArrayUnique({ message: 'names one twice.' })
  @IsString({ each: true, message: 'must be a list of ids of tags and lists.' })
  labels?: string[];

  /** All sequences it begins: `{ sequence, kind }`, `kind` empty for all of them. */
  @IsOptional()
  @IsArray({ message: 'must be a list of { sequence, kind }.' })
  @ArrayMaxSize(20, { message: 'holds more than 20.' })
  @IsObject({ each: true, message: 'must be a list of { sequence, kind }.' })
  begins?: object[];

  /** Closed: it says so, and takes nothing. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  closed?: boolean;
}

export class NewKeyInput {
  /** `address`: a new address and mailbox. `secret`: a new secret. The one before counts for so many hours. */
  @IsIn(['address', 'secret'], { message: 'must be "address" or "secret".' })
  of!: 'address' | 'secret';

  @IsOptional()
  @IsInt({ message: 'must be whole hours, from 0 to 720.' })
  @Min(0, { message: 'must be whole hours, from 0 to 720.' })
  @Max(720, { message: 'must be whole hours, from 0 to 720.' })
  hours?: number;
}

export class PlayAgainInput {
  /** Those that are read again; left out: all that could not be read. */
  @IsOptional()
  @IsArray({ message: 'must be a list of ids.' })
  @ArrayMaxSize(1_000, { message: 'holds more than 1,000.' })
  @IsString({ each: true, message: 'must be a list of ids.' })
  arrivals?: string[];
}

/** One inquiry by the API: any JSON, read as the source is mapped. */
export class InquiryInput {
  /** The sender’s id; the same twice is one inquiry. */
  @IsOptional()
  @IsString(words('lead 88213'))
  @MaxLength(200, tooLong(200))
  id?: string;

  @IsObject({ message: 'must be an object: what was asked, as it came.' })
  content!: object;
}

export class DutyInput {
  /** From when to when they answer, day by day (1 is Monday); empty: at any hour. */
  @IsArray({ message: 'must be a list of { day, from, to }.' })
  @ArrayMaxSize(21, { message: 'holds more than 21.' })
  @IsObject({ each: true, message: 'must be a list of { day, from, to }.' })
  hours!: object[];

  /** The last day on which they are away; empty: they are not. */
  @IsOptional()
  @IsString(words('2026-12-24'))
  @MaxLength(10, tooLong(10))
  away_until?: string;

  /** Inquiries are told by e-mail too. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  mail?: boolean;

  /** And by text, to their own number, once it is proved. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  text?: boolean;

  /** Threads that are given to them, that are back, and notes that call them are told by e-mail too. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  mail_threads?: boolean;

  /** And by text, to their own number, once it is proved. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  text_threads?: boolean;

  /** They take calls back while they are on. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  calls?: boolean;
}

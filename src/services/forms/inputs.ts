import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  MaxLength,
  Min,
} from '@/services/kit/validation';
import { IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';

const IDS = { each: true, message: 'must be a list of ids.' };

export class NewFormInput {
  @IsString(words('Sign up for clear skies'))
  @IsFilled({ message: 'must not be empty: name the form.' })
  @MaxLength(80, tooLong(80))
  name!: string;

  /** The program that people join by it, by id or name. */
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program!: string;

  /** As it was exported; left out: a form with name and number to begin with. */
  @IsOptional()
  @IsObject({ message: 'must be a form in the published JSON form.' })
  document?: object;
}

/** What changes of a form; what is left out stays. What is shown changes when it is published. */
export class ChangeFormInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsInt({ message: 'must be the stamp that was read.' })
  @Min(0, { message: 'must be the stamp that was read.' })
  stamp!: number;

  @IsOptional()
  @IsString(words('Sign up for clear skies'))
  @IsFilled({ message: 'must not be empty: name the form.' })
  @MaxLength(80, tooLong(80))
  name?: string;

  @IsOptional()
  @IsObject({ message: 'must be a form in the published JSON form.' })
  document?: object;

  /** First words of the confirmation, a template; empty: those of the program. */
  @IsOptional()
  @IsString(words('You are in!'))
  @MaxLength(600, tooLong(600))
  welcome?: string;

  /** The offer of which it gives a voucher, by id; null: none. */
  @IsOptional()
  @IsString({ message: 'must be the id of an offer, or null.' })
  @MaxLength(80, tooLong(80))
  offer?: string | null;

  /** All tags and lists it gives, by id. */
  @IsOptional()
  @IsArray({ message: 'must be a list of ids of tags and lists.' })
  @ArrayMaxSize(20, { message: 'holds more than 20.' })
  @ArrayUnique({ message: 'names one twice.' })
  @IsString(IDS)
  labels?: string[];

  /** All sequences it starts, by id. */
  @IsOptional()
  @IsArray({ message: 'must be a list of ids of sequences.' })
  @ArrayMaxSize(20, { message: 'holds more than 20.' })
  @ArrayUnique({ message: 'names one twice.' })
  @IsString(IDS)
  sequences?: string[];

  /** Closed: it says so, and takes nothing. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  closed?: boolean;
}

export class PublishFormInput {
  /** As it was read: what is published is what was looked at. */
  @IsInt({ message: 'must be the stamp that was read.' })
  @Min(0, { message: 'must be the stamp that was read.' })
  stamp!: number;
}

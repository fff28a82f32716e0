import { IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';
import {
  ArrayMaxSize,
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

export class ConnectSwitchboardInput {
  @IsString(words('House telephones'))
  @IsFilled({ message: 'must not be empty: the name is how you tell them apart.' })
  @MaxLength(80, tooLong(80))
  name!: string;

  /** How it signs: `standard` as Standard Webhooks has it, or `none`. Left out: none. */
  @IsOptional()
  @IsIn(['none', 'standard'], { message: 'must be none or standard.' })
  signs?: 'none' | 'standard';

  /** Where it lists its numbers; left out: it does not. */
  @IsOptional()
  @IsString(words('https://telephones.example.org/numbers'))
  @MaxLength(500, tooLong(500))
  numbers_url?: string;

  /** By which it knows that it is us. */
  @IsOptional()
  @IsString(words('a long secret word'))
  @MaxLength(500, tooLong(500))
  token?: string;
}

export class CallMappingInput {
  /** JSON Pointers (RFC 6901) by what stands there: id, state, direction, from, to, teammate, rang, answered, ended, at, outcome, note. */
  @IsObject({ message: 'must be an object of JSON Pointers.' })
  mapping!: Record<string, unknown>;
}

export class CallOutcomeInput {
  @IsString(words('Nobody picked up'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(60, tooLong(60))
  name!: string;

  /** What telephone systems call it, beside its name. */
  @IsOptional()
  @IsArray({ message: 'must be a list of words.' })
  @ArrayMaxSize(20, { message: 'holds more than 20 words.' })
  @IsString({ each: true, message: 'must be a list of words.' })
  @MaxLength(60, { each: true, ...tooLong(60) })
  calls?: string[];

  /** It is what a call gets that nobody picked up. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  missed?: boolean;

  /** They were spoken to. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  reached?: boolean;

  /** The program what follows belongs to, by id or name; left out: nothing follows. */
  @IsOptional()
  @IsString(words('School & Group Visits'))
  @MaxLength(80, tooLong(80))
  program?: string;

  /** The text that follows, in Unicode MessageFormat 2. */
  @IsOptional()
  @IsString(words('We just tried to call you …'))
  @MaxLength(1_600, tooLong(1_600))
  body?: string;

  /** The sequence it begins, by id. */
  @IsOptional()
  @IsString(words('seq_…'))
  @MaxLength(80, tooLong(80))
  sequence?: string;
}

export class NewCallInput {
  /** By id. */
  @IsString(words('per_…'))
  @MaxLength(80, tooLong(80))
  person!: string;

  /** `out`: we called. Left out: out. */
  @IsOptional()
  @IsIn(['in', 'out'], { message: 'must be in or out.' })
  direction?: 'in' | 'out';

  /** The number of ours, by id or number; left out: the one they know. */
  @IsOptional()
  @IsString(words('+1 303 555 0110'))
  @MaxLength(80, tooLong(80))
  sender_number?: string;

  /** What it came to, by id or name. */
  @IsString(words('Left a voicemail'))
  @IsFilled({ message: 'must not be empty: what did it come to?' })
  @MaxLength(80, tooLong(80))
  outcome!: string;

  @IsOptional()
  @IsString(words('wants to come in March'))
  @MaxLength(2_000, tooLong(2_000))
  note?: string;

  /** How long they spoke. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of seconds.' })
  @Min(0, { message: 'must be 0 or more.' })
  @Max(36_000, { message: 'must be at most 36000.' })
  seconds?: number;
}

export class BringNumbersInput {
  /** Numbers the telephone system lists. */
  @IsArray({ message: 'must be a list of numbers.' })
  @ArrayMaxSize(200, { message: 'holds more than 200 numbers.' })
  @IsString({ each: true, message: 'must be a list of numbers.' })
  @MaxLength(40, { each: true, ...tooLong(40) })
  numbers!: string[];
}

export class ChangeCallInput {
  /** What it came to, by id or name. */
  @IsString(words('Left a voicemail'))
  @IsFilled({ message: 'must not be empty: what did it come to?' })
  @MaxLength(80, tooLong(80))
  outcome!: string;

  @IsOptional()
  @IsString(words('wants to come in March'))
  @MaxLength(2_000, tooLong(2_000))
  note?: string;
}

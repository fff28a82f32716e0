import {
  IsInt,
  Min,
  Max,
  IsIn,
  IsArray,
  ArrayMaxSize,
  ArrayUnique,
  ArrayMinSize,
  Matches,
  IsString,
  MaxLength,
  IsOptional,
  IsObject,
  ValidateNested,
  Type,
  IsBoolean,
  IsISO8601,
} from '@/services/kit/validation';
import { MOST_QUESTIONS } from '@/core/question/fields';
import { words, tooLong } from '@/services/kit/inputs';
import { IsStamp, IsFilled } from '@/services/kit/checks';

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

/** What changes of a program; what is left out stays. */
export class ChangeProgramInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsStamp()
  stamp!: number;

  @IsOptional()
  @IsString(words('Clear Sky Alerts'))
  @IsFilled({ message: 'must not be empty: name what people agree to.' })
  @MaxLength(80, tooLong(80))
  name?: string;

  @IsOptional()
  @IsIn(['marketing', 'recurring', 'utility', 'inquiry'], {
    message: 'must be marketing, recurring, utility or inquiry.',
  })
  purpose?: 'marketing' | 'recurring' | 'utility' | 'inquiry';

  /** Null: no number is promised. */
  @IsOptional()
  @IsObject({ message: 'must be an object with count and period.' })
  @ValidateNested()
  @Type(() => PromiseInput)
  promise?: PromiseInput | null;

  /** What holds for those who agreed to a lower promise: `keep` theirs, or the new one for `all`. */
  @IsOptional()
  @IsIn(['keep', 'all'], { message: 'must be keep or all.' })
  members?: 'keep' | 'all';

  @IsOptional()
  @IsString(words('You are in!'))
  @MaxLength(300, tooLong(300))
  welcome?: string;

  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  double_opt_in?: boolean;

  /** Null: as the law allows. */
  @IsOptional()
  @IsObject({ message: 'must be an object with days, from and to.' })
  @ValidateNested()
  @Type(() => HoursInput)
  hours?: HoursInput | null;

  /** All its sender numbers, by id or number. */
  @IsOptional()
  @IsArray({ message: 'must be a list of sender numbers.' })
  @ArrayMaxSize(100, { message: 'holds more than 100 numbers.' })
  @IsString({ each: true, message: 'must be a list of sender numbers.' })
  sender_numbers?: string[];

  /** Archived: nobody joins, and nothing leaves but answers. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  archived?: boolean;
}

export class MergeProgramInput {
  /** The program that takes the members over, by id or name. */
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  into!: string;
}

export class CreateKeywordInput {
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program!: string;

  @IsString(words('SKY'))
  @MaxLength(200, tooLong(200))
  word!: string;
}

const A_TIME = { message: 'must be an instant, such as 2026-12-01T10:00:00Z, or null.' };

export class QuestionInput {
  /** `name`, `email`, `postal_code`, or `own.<key>`. */
  @IsString({ message: 'must be name, email, postal_code or own.<key>.' })
  @MaxLength(60, tooLong(60))
  field!: string;

  /** How it is asked; empty: in words of ours. */
  @IsOptional()
  @IsString(words('What is your name?'))
  @MaxLength(200, tooLong(200))
  words?: string;

  /** How it is asked once more; empty: in words of ours. */
  @IsOptional()
  @IsString(words('Your first and last name are enough.'))
  @MaxLength(200, tooLong(200))
  again?: string;
}

/** What joining gives, by a keyword or a form; what is left out stays. */
export class GivesInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsStamp()
  stamp!: number;

  /** Its own first words, a template; empty: those of the program. */
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
  @IsString({ each: true, message: 'must be a list of ids of tags and lists.' })
  labels?: string[];

  /** All sequences it starts, by id. */
  @IsOptional()
  @IsArray({ message: 'must be a list of ids of sequences.' })
  @ArrayMaxSize(20, { message: 'holds more than 20.' })
  @ArrayUnique({ message: 'names one twice.' })
  @IsString({ each: true, message: 'must be a list of ids of sequences.' })
  sequences?: string[];
}

/** What changes of a keyword; what is left out stays. */
export class ChangeKeywordInput extends GivesInput {
  @IsOptional()
  @IsISO8601({ strict: true }, A_TIME)
  valid_from?: string | null;

  @IsOptional()
  @IsISO8601({ strict: true }, A_TIME)
  valid_to?: string | null;

  /** What is answered before it is valid; empty: words of ours. */
  @IsOptional()
  @IsString(words('We begin in June.'))
  @MaxLength(300, tooLong(300))
  before_words?: string;

  @IsOptional()
  @IsString(words('The evening is over.'))
  @MaxLength(300, tooLong(300))
  after_words?: string;

  /** Asked one after the other once somebody joined by it: at most five. */
  @IsOptional()
  @IsArray({ message: 'must be a list of questions.' })
  @ArrayMaxSize(MOST_QUESTIONS, { message: `holds more than ${MOST_QUESTIONS} questions.` })
  @ArrayUnique((one: QuestionInput | null) => one?.field, { message: 'asks for one field twice.' })
  @IsObject({ each: true, message: 'must be a list of objects with field, words and again.' })
  @ValidateNested({ each: true })
  @Type(() => QuestionInput)
  questions?: QuestionInput[];

  /** Said after the last answer; empty: nothing. */
  @IsOptional()
  @IsString(words('Thank you!'))
  @MaxLength(200, tooLong(200))
  thanks?: string;

  /** How many days the personal link holds that follows where no answer came; null: none follows. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of days, or null.' })
  @Min(1, { message: 'must be at least 1 day.' })
  @Max(90, { message: 'must be at most 90 days.' })
  link_days?: number | null;

  /** Whether a teammate gets a task where neither came. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  task_after?: boolean;

  /** The numbers it is heard on, by id or number; none: all. */
  @IsOptional()
  @IsArray({ message: 'must be a list of sender numbers.' })
  @ArrayMaxSize(100, { message: 'holds more than 100 numbers.' })
  @IsString({ each: true, message: 'must be a list of sender numbers.' })
  sender_numbers?: string[];
}

export class SpellingInput {
  @IsString(words('SKYY'))
  @MaxLength(200, tooLong(200))
  spelling!: string;

  /** Those who wrote it within so many days join as if they had typed the keyword; 0: nobody. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of days.' })
  @Min(0, { message: 'must be 0 or more days.' })
  @Max(30, { message: 'must be at most 30 days.' })
  days?: number;
}

export class RemoveSpellingInput {
  @IsString(words('SKYY'))
  @MaxLength(200, tooLong(200))
  spelling!: string;
}

export class TryKeywordInput {
  /** The account of the teammate, as the team lists it; it has a proved number. */
  @IsString({ message: 'must be the id of a teammate.' })
  @MaxLength(80, tooLong(80))
  teammate!: string;
}

export class CallToActionInput {
  @IsString(words('Text SKY to …'))
  @IsFilled({ message: 'must not be empty: paste what people read.' })
  @MaxLength(4_000, tooLong(4_000))
  text!: string;

  /** The keyword it calls to, by id. */
  @IsString({ message: 'must be the id of a keyword.' })
  @MaxLength(80, tooLong(80))
  keyword!: string;
}

import { USUAL_LIMITS } from '@/core/chat/network';
import { CHANNELS, type Channel } from '@/core/message/channel';
import { MOST_FILES } from '@/core/media/kinds';
import { TARGETS } from '@/core/inbox/waiting';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
} from '@/services/kit/validation';
import { IsFilled, IsInstant } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';

/** Somebody told a teammate that they want to leave. */
export class LeaveInput {
  @IsOptional()
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program?: string;

  @IsString(words('told us on the phone'))
  @IsFilled({ message: 'must say how they told you, such as “on the phone”.' })
  @MaxLength(300, tooLong(300))
  why!: string;

  @IsOptional()
  @IsBoolean({ message: 'must be true or false: whether the final text goes to them.' })
  confirm?: boolean;
}

/** Somebody wishes to hear nothing until a day. */
export class PauseInput {
  @Matches(/^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])$/, {
    message: 'must be the day on which texts may go again, such as 2027-01-15.',
  })
  until!: string;

  @IsOptional()
  @IsString(words('away until spring'))
  @MaxLength(300, tooLong(300))
  why?: string;
}

/** An answer by hand. */
export class AnswerInput {
  /** As they read it. */
  @IsString(words('Yes, bring your sister.'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(20_000, tooLong(20_000))
  body!: string;

  /** Left out: as they last wrote. */
  @IsOptional()
  @IsIn(CHANNELS, { message: `must be one of ${CHANNELS.join(', ')}.` })
  channel?: Channel;

  /** When it goes; left out: now. */
  @IsOptional()
  @IsInstant()
  at?: string;

  /** They are back in the inbox then, unless they have written. */
  @IsOptional()
  @IsInstant()
  back?: string;

  /** The prepared answer it is, by id. */
  @IsOptional()
  @IsString(words('tpl_…'))
  @MaxLength(60, tooLong(60))
  prepared?: string;

  /** Files that go along, by id: as a picture message where that can be, else with a link to them. */
  @IsOptional()
  @IsArray({ message: 'must be a list of ids of files.' })
  @ArrayMaxSize(MOST_FILES, { message: `holds more than ${MOST_FILES}.` })
  @IsString({ each: true, message: 'must be a list of ids of files.' })
  media?: string[];

  /** What can be pressed under a chat message; left out on other channels. */
  @IsOptional()
  @IsArray({ message: 'must be a list of words.' })
  @ArrayMaxSize(USUAL_LIMITS.quickReplies, { message: `holds more than ${USUAL_LIMITS.quickReplies}.` })
  @IsString({ each: true, message: 'must be a list of words.' })
  buttons?: string[];
}

/** What is done with a thread beside answering it. */
export class ThreadInput {
  /** `give`: to `account`, or to nobody; `later`: back at `until`; `take-up`: back now; `done`: no answer needed. */
  @IsIn(['give', 'later', 'take-up', 'done'], { message: 'must be one of: give, later, take-up, done.' })
  verb!: 'give' | 'later' | 'take-up' | 'done';

  @IsOptional()
  @IsString({ message: 'must be the id of a teammate.' })
  @MaxLength(60, tooLong(60))
  account?: string;

  @IsOptional()
  @IsInstant()
  until?: string;
}

/** Words for teammates alone. */
export class NoteInput {
  @IsString(words('Call before noon. @Tess knows them.'))
  @MaxLength(4_000, tooLong(4_000))
  note!: string;
}

/** How soon people should be answered here, and who gets what is nobody’s. */
export class RepliesInput {
  @IsIn(TARGETS, { message: `must be one of ${TARGETS.join(', ')} minutes.` })
  minutes!: number;

  /** Left out: what somebody writes that is nobody’s stays nobody’s. */
  @IsOptional()
  @IsIn(['turn', 'load'], { message: 'must be turn or load.' })
  by?: 'turn' | 'load';

  /** Teammates who take part, by id; left out: all who answer people. */
  @IsOptional()
  @IsArray({ message: 'must be a list of ids of teammates.' })
  @ArrayMaxSize(200, { message: 'holds more than 200 teammates.' })
  @IsString({ each: true, message: 'must be a list of ids of teammates.' })
  among?: string[];

  /** Whose everything of a program, a number or a source is, by its id; what stands here counts before the rest. */
  @IsOptional()
  @IsObject({ message: 'must be an object of ids of programs, numbers and sources with ids of teammates.' })
  whose?: Record<string, string>;
}

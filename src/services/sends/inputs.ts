import { CHANNELS, type Channel } from '@/core/message/channel';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsString,
  MaxLength,
  IsOptional,
  IsInt,
  IsObject,
  Type,
  ValidateIf,
  ValidateNested,
  Min,
  Max,
} from '@/services/kit/validation';
import { MOST_MINUTES } from '@/core/broadcast/companion';
import { MOST_FILES } from '@/core/media/kinds';
import { MOST_WORDINGS } from '@/core/broadcast/wordings';
import { COPY_FOR, type CopyFor } from './copy-for';
import { HoursInput } from '@/services/programs/inputs';
import { words, tooLong } from '@/services/kit/inputs';
import { IsCondition, IsFilled, IsInstant } from '@/services/kit/checks';

/** A line nobody reads to its end, and a letter longer than anybody sends. */
const LONGEST_SUBJECT = 300;
const LONGEST_BODY = 20_000;

/** So many at most per minute or hour, evenly until an instant, in waves, or as the phones carry. */
export class PaceInput {
  @IsOptional()
  @IsInt({ message: 'must be a whole number of people.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(100_000, { message: 'must be at most 100000.' })
  people?: number;

  @IsOptional()
  @IsIn(['minute', 'hour'], { message: 'must be minute or hour.' })
  per?: 'minute' | 'hour';

  @IsOptional()
  @IsInstant()
  until?: string;

  /** With people: so many together, every so many minutes. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of minutes.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(1_440, { message: 'must be at most 1440.' })
  every_minutes?: number;

  /** True: in waves as large as whoever is at the phones can take the calls back. Of voicemails only. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  phones?: boolean;

  /** True: by hand, each when somebody presses it. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  hands?: boolean;

  /** With hands, true: whoever presses may change the words, within a part more and with its links kept. Of texts only. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  adapt?: boolean;
}

/** When and from where a broadcast leaves. */
export class TimingInput {
  /** Only on these days and hours of theirs, inside the program’s own; null or left out: whenever it may. */
  @IsOptional()
  @IsObject({ message: 'must be an object with days, from and to.' })
  @ValidateNested()
  @Type(() => HoursInput)
  hours?: HoursInput | null;

  /** Null or left out: as fast as the numbers carry. */
  @IsOptional()
  @IsObject({ message: 'must be an object with people and per, or until.' })
  @ValidateNested()
  @Type(() => PaceInput)
  pace?: PaceInput | null;

  /** Numbers of the program it leaves from, by id or number; left out: all that fit. */
  @IsOptional()
  @IsArray({ message: 'must be a list of sender numbers.' })
  @ArrayMaxSize(100, { message: 'holds more than 100 numbers.' })
  @IsString({ each: true, message: 'must be a list of sender numbers.' })
  sender_numbers?: string[];
}

/** Another wording of the same broadcast. */
export class OtherWordingInput {
  @IsOptional()
  @IsString(words('Saturn is up tonight'))
  @MaxLength(LONGEST_SUBJECT, tooLong(LONGEST_SUBJECT))
  subject?: string;

  @IsString(words('Come and see Saturn.'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(LONGEST_BODY, tooLong(LONGEST_BODY))
  body!: string;
}

/** Up to four wordings, split by lot. */
export class ComparisonInput {
  /** The second to the fourth. */
  @IsArray({ message: 'must be a list of wordings.' })
  @ArrayMaxSize(MOST_WORDINGS - 1, {
    message: `holds more than ${MOST_WORDINGS - 1} wordings beside the first.`,
  })
  @ValidateNested({ each: true })
  @Type(() => OtherWordingInput)
  others!: OtherWordingInput[];

  @IsIn(['replies', 'clicks', 'opt-outs'], { message: 'must be replies, clicks or opt-outs.' })
  by!: 'replies' | 'clicks' | 'opt-outs';

  /** Of a hundred people so many get the wordings first, the rest the better one; left out: all are split at once. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of a hundred.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(90, { message: 'must be at most 90: somebody has to be left for the better one.' })
  first?: number | null;

  /** The better one goes to the rest by itself once the difference is real; left out: somebody chooses. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  by_itself?: boolean;
}

/** What goes by another channel to who cannot be reached. */
export class InsteadInput {
  /** Left out: by e-mail. Beside a chat message also sms. */
  @IsOptional()
  @IsIn(['email', 'sms'], { message: 'must be email or sms.' })
  channel?: 'email' | 'sms';

  /** Of an e-mail. */
  @IsOptional()
  @IsString(words('Saturn is up tonight'))
  @MaxLength(LONGEST_SUBJECT, tooLong(LONGEST_SUBJECT))
  subject?: string;

  @IsString(words('Come and see Saturn.'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(LONGEST_BODY, tooLong(LONGEST_BODY))
  body!: string;
}

export class CompanionInput extends InsteadInput {
  /** Whether it is told before or after. */
  @IsIn(['before', 'after'], { message: 'must be before or after.' })
  when!: 'before' | 'after';

  /** How long lies between the two, for each person. */
  @IsInt({ message: 'must be a whole number of minutes.' })
  @Min(0, { message: 'must be 0 or more.' })
  @Max(MOST_MINUTES.after, { message: `must be at most ${MOST_MINUTES.after}.` })
  minutes!: number;
}

export class CreateBroadcastInput extends TimingInput {
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program!: string;

  @IsString(words('Saturn week'))
  @IsFilled({ message: 'must not be empty: the name is how you find it again.' })
  @MaxLength(120, tooLong(120))
  name!: string;

  /** Left out: by text. */
  @IsOptional()
  @IsIn(CHANNELS, { message: `must be one of ${CHANNELS.join(', ')}.` })
  channel?: Channel;

  /** Of an e-mail; Unicode MessageFormat 2 on one line. */
  @IsOptional()
  @IsString(words('Saturn is up tonight'))
  @MaxLength(LONGEST_SUBJECT, tooLong(LONGEST_SUBJECT))
  subject?: string;

  /** Unicode MessageFormat 2. A chat message says what its template says, a voicemail what is recorded: leave it out. */
  @ValidateIf(({ channel }: CreateBroadcastInput) => channel !== 'chat' && channel !== 'voicemail')
  @IsString(words('Saturn is up tonight.'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(LONGEST_BODY, tooLong(LONGEST_BODY))
  body!: string;

  /** Of a chat message: the template it goes by, by id. */
  @IsOptional()
  @IsString(words('cht_…'))
  @MaxLength(80, tooLong(80))
  chat_template?: string;

  /** Of a voicemail: the recording it plays, by id. */
  @IsOptional()
  @IsString(words('vrc_…'))
  @MaxLength(80, tooLong(80))
  recording?: string;

  /** Wordings beside this one; left out: there is one. */
  @IsOptional()
  @IsObject({ message: 'must be an object with others and by.' })
  @ValidateNested()
  @Type(() => ComparisonInput)
  comparison?: ComparisonInput | null;

  /** A rule of iCalendar (RFC 5545), such as `FREQ=WEEKLY;BYDAY=TH`: sent again, each time checked as new. Left out: once. */
  @IsOptional()
  @IsString(words('FREQ=WEEKLY;BYDAY=TH'))
  @MaxLength(300, tooLong(300))
  repeat?: string;

  /** False: addresses stay as they are written. Left out: they become short ones that count who comes. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  short_links?: boolean;

  /** Addresses that stay as they are written. */
  @IsOptional()
  @IsArray({ message: 'must be a list of addresses as they stand in the text.' })
  @ArrayMaxSize(20, { message: 'holds more than 20 addresses.' })
  @IsString({ each: true, message: 'must be a list of addresses as they stand in the text.' })
  @MaxLength(2_000, { each: true, ...tooLong(2_000) })
  plain_links?: string[];

  /** Adds where somebody came from to the addresses, for whoever counts visits there. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  utm?: boolean;

  /** Of a text: a letter for who cannot be texted and may be written to; left out: they get nothing. */
  @IsOptional()
  @IsObject({ message: 'must be an object with subject and body.' })
  @ValidateNested()
  @Type(() => InsteadInput)
  instead?: InsteadInput | null;

  /** Of a voicemail: a text or a letter that is told to each before or after it; left out: nothing. */
  @IsOptional()
  @IsObject({ message: 'must be an object with when, minutes and body.' })
  @ValidateNested()
  @Type(() => CompanionInput)
  companion?: CompanionInput | null;

  /** Ids of files that go along: as a picture message where number and phone can, else as a link to them. */
  @IsOptional()
  @IsArray({ message: 'must be a list of ids of files.' })
  @ArrayMaxSize(MOST_FILES, { message: `holds more than ${MOST_FILES} files.` })
  @IsString({ each: true, message: 'must be a list of ids of files.' })
  @MaxLength(60, { each: true, ...tooLong(60) })
  media?: string[];

  /** Id of the template it began from, so that its results count there too. */
  @IsOptional()
  @IsString(words('tpl_…'))
  @MaxLength(40, tooLong(40))
  template?: string;

  /** A condition as JSON text: who is meant. Left out: everybody of the program. */
  @IsOptional()
  @IsCondition()
  audience?: string;
}

export class SendBroadcastInput {
  /** A day and a time of day that come where each of them lives, such as `2026-12-05T10:00`; left out: one instant for all. */
  @IsOptional()
  @IsString(words('2026-12-05T10:00'))
  @MaxLength(16, tooLong(16))
  local?: string;

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

export class ChangePaceInput {
  /** Null: as fast as the numbers carry. */
  @IsOptional()
  @IsObject({ message: 'must be an object with people and per, or until.' })
  @ValidateNested()
  @Type(() => PaceInput)
  pace?: PaceInput | null;
}

export class LeaveOutInput {
  /** A condition as JSON text: who gets it no more. */
  @IsCondition()
  condition!: string;
}

export class ChooseWordingInput {
  /** The first is 0. */
  @IsInt({ message: 'must be a whole number: the first wording is 0.' })
  @Min(0, { message: 'must be 0 or more.' })
  @Max(MOST_WORDINGS - 1, { message: `must be at most ${MOST_WORDINGS - 1}.` })
  wording!: number;
}

export class CopyBroadcastInput {
  /** Whom the copy is for; left out: the same people. */
  @IsOptional()
  @IsIn(COPY_FOR, { message: `must be one of ${COPY_FOR.join(', ')}.` })
  whom?: CopyFor;
}

export class ShareResultInput {
  /** How long the address shows the result. */
  @IsInt({ message: 'must be a whole number of days.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(365, { message: 'must be at most 365.' })
  days!: number;
}

export class RescheduleInput {
  @IsInstant()
  at!: string;
}

import { CHANNELS, type Channel } from '@/core/message/channel';
import { IsFilled, IsInstant } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';
import { IsBoolean, IsIn, IsInt, IsOptional, IsString, MaxLength, Min } from '@/services/kit/validation';

/** A text somebody wants checked before it goes. */
export class CheckWordingInput {
  /** Unicode MessageFormat 2. */
  @IsString(words('Saturn is up tonight.'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(20_000, tooLong(20_000))
  body!: string;

  /** The program it is of: what it promised is held against it. Left out: none. */
  @IsOptional()
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program?: string;

  /** Left out: by text. */
  @IsOptional()
  @IsIn(CHANNELS, { message: `must be one of ${CHANNELS.join(', ')}.` })
  channel?: Channel;

  /** When it leaves; left out: now. */
  @IsOptional()
  @IsInstant()
  at?: string;

  /** It answers somebody who wrote: they know who writes, and what for. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  answers?: boolean;
}

/** A text that is kept to be written again. */
export class TemplateInput {
  @IsString(words('What is on'))
  @IsFilled({ message: 'must not be empty: the name is how you find it again.' })
  @MaxLength(80, tooLong(80))
  name!: string;

  /** Left out: it lies in none. */
  @IsOptional()
  @IsString(words('News'))
  @MaxLength(60, tooLong(60))
  folder?: string;

  /** Of a letter. */
  @IsOptional()
  @IsString(words('What is on this week'))
  @MaxLength(300, tooLong(300))
  subject?: string;

  /** Unicode MessageFormat 2. */
  @IsString(words('Saturn is up tonight.'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(20_000, tooLong(20_000))
  body!: string;

  /** Of a prepared answer: the question it answers, in words; empty or left out: it is none. */
  @IsOptional()
  @IsString(words('What does it cost?'))
  @MaxLength(200, tooLong(200))
  question?: string;

  /** Only for oneself; left out: for everybody. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  own?: boolean;
}

/** What changes of a template; what is left out stays. */
export class ChangeTemplateInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsInt({ message: 'must be the version that was read.' })
  @Min(1, { message: 'must be the version that was read.' })
  version!: number;

  @IsOptional()
  @IsString(words('What is on'))
  @IsFilled({ message: 'must not be empty: the name is how you find it again.' })
  @MaxLength(80, tooLong(80))
  name?: string;

  @IsOptional()
  @IsString(words('News'))
  @MaxLength(60, tooLong(60))
  folder?: string;

  @IsOptional()
  @IsString(words('What is on this week'))
  @MaxLength(300, tooLong(300))
  subject?: string;

  @IsOptional()
  @IsString(words('Saturn is up tonight.'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(20_000, tooLong(20_000))
  body?: string;

  /** Of a prepared answer: the question it answers, in words; empty or left out: it is none. */
  @IsOptional()
  @IsString(words('What does it cost?'))
  @MaxLength(200, tooLong(200))
  question?: string;

  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  own?: boolean;
}

export class ImportTemplatesInput {
  /** A document of templates as JSON text, as the export gives it. */
  @IsString({ message: 'must be a document of templates as JSON text.' })
  @MaxLength(2_000_000, tooLong(2_000_000))
  document!: string;
}

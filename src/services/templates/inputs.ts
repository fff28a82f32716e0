import { CHANNELS, type Channel } from '@/core/message/channel';
import { IsFilled, IsInstant } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';
import { IsBoolean, IsIn, IsOptional, IsString, MaxLength } from '@/services/kit/validation';

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

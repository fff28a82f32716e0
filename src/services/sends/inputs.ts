import { IsString, MaxLength, IsOptional, IsInt, Min, Max } from '@/services/kit/validation';
import { words, tooLong, LONGEST_TEXT } from '@/services/kit/inputs';
import { IsCondition, IsFilled, IsInstant } from '@/services/kit/checks';

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
  @IsCondition()
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

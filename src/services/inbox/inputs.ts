import { IsBoolean, IsOptional, IsString, Matches, MaxLength } from '@/services/kit/validation';
import { IsFilled } from '@/services/kit/checks';
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

import {
  IsBoolean,
  IsInt,
  IsISO8601,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from '@/services/kit/validation';
import { IsStamp, IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';

const A_TIME = { message: 'must be an instant, such as 2026-12-01T10:00:00Z, or null.' };
const DAYS = { message: 'must be a whole number of days from 1 to 365, or null.' };
const USES = { message: 'must be a whole number from 1 to 100.' };
const MOST = { message: 'must be a whole number from 1 to 1000000, or null.' };

/** The terms of an offer. */
export class OfferInput {
  @IsString(words('A free hour'))
  @IsFilled({ message: 'must not be empty: name the offer.' })
  @MaxLength(60, tooLong(60))
  name!: string;

  /** What the voucher says. */
  @IsString(words('One free hour in the dome.'))
  @IsFilled({ message: 'must not be empty: say what it gives.' })
  @MaxLength(200, tooLong(200))
  words!: string;

  /** How many days it counts from when it was received; null: as long as the offer stands. */
  @IsOptional()
  @IsInt(DAYS)
  @Min(1, DAYS)
  @Max(365, DAYS)
  days?: number | null;

  /** How often one voucher can be used. */
  @IsOptional()
  @IsInt(USES)
  @Min(1, USES)
  @Max(100, USES)
  uses?: number;

  /** How many there are in all; null: as many as are asked for. */
  @IsOptional()
  @IsInt(MOST)
  @Min(1, MOST)
  @Max(1_000_000, MOST)
  most?: number | null;

  @IsOptional()
  @IsISO8601({ strict: true }, A_TIME)
  from?: string | null;

  @IsOptional()
  @IsISO8601({ strict: true }, A_TIME)
  to?: string | null;

  /** Where it counts. */
  @IsOptional()
  @IsString(words('At the counter'))
  @MaxLength(100, tooLong(100))
  place?: string;
}

/** All terms as they are from now on. */
export class ChangeOfferInput extends OfferInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsStamp()
  stamp!: number;

  /** Ended: no voucher is given any more, and none can be used. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  archived?: boolean;
}

/** A code as it is typed, scanned, or in its link. */
export class CodeInput {
  @IsString(words('7KQ3-M9T2W'))
  @MaxLength(300, tooLong(300))
  code!: string;
}

export class UseInput extends CodeInput {
  /** Made by the till for this press: sent again, it counts once. */
  @IsString({ message: 'must be an id of the press.' })
  @IsFilled({ message: 'must not be empty: it is what makes a press count once.' })
  @MaxLength(80, tooLong(80))
  press!: string;
}

export class UndoUseInput {
  @IsString({ message: 'must be an id of the press.' })
  @MaxLength(80, tooLong(80))
  press!: string;
}

export class EndingInput {
  @IsString(words('0110'))
  @MaxLength(20, tooLong(20))
  ending!: string;
}

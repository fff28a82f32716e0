import type { SenderKind } from '@/core/clearance/sender';
import { IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  Type,
  ValidateNested,
} from '@/services/kit/validation';

const KINDS: SenderKind[] = ['local', 'toll-free', 'short-code'];
const A_PRICE = { message: 'must be a whole number of credits from 0 to 1000.' };
const A_LIMIT = { message: 'must be a whole number of credits from 1 to 100000000, or null for no limit.' };

export class PriceRuleInput {
  @IsIn(['text', 'picture'], { message: 'must be text or picture.' })
  what!: 'text' | 'picture';

  /** Of the number it leaves from; left out: any. */
  @IsOptional()
  @IsIn(KINDS, { message: `must be one of: ${KINDS.join(', ')}.` })
  kind?: SenderKind;

  /** Of the number it goes to, by its two letters (ISO 3166-1); left out: any. */
  @IsOptional()
  @IsString(words('CA'))
  @MaxLength(2, tooLong(2))
  country?: string;

  /** The carrier the number belongs to, by id or name; left out: any. */
  @IsOptional()
  @IsString(words('Second carrier'))
  @MaxLength(80, tooLong(80))
  carrier?: string;

  /** For each part of a text, or for a picture message. */
  @IsInt(A_PRICE)
  @Min(0, A_PRICE)
  @Max(1_000, A_PRICE)
  credits!: number;
}

const RULES = { message: 'must be a list of at most 200 prices.' };

export class PricesInput {
  /** What is usual for one part of a text. */
  @IsInt(A_PRICE)
  @Min(0, A_PRICE)
  @Max(1_000, A_PRICE)
  part!: number;

  /** What is usual for a picture message. */
  @IsInt(A_PRICE)
  @Min(0, A_PRICE)
  @Max(1_000, A_PRICE)
  picture!: number;

  /** What costs otherwise; the narrowest that fits counts. */
  @IsArray(RULES)
  @ArrayMaxSize(200, RULES)
  @ValidateNested({ each: true })
  @Type(() => PriceRuleInput)
  rules!: PriceRuleInput[];
}

export class DayLimitInput {
  /** A program, by id or name; left out: all that the workspace begins. */
  @IsOptional()
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(120, tooLong(120))
  program?: string;

  /** Credits in a day; null: no limit. */
  @IsOptional()
  @IsInt(A_LIMIT)
  @Min(1, A_LIMIT)
  @Max(100_000_000, A_LIMIT)
  credits?: number | null;
}

export class BuyInput {
  /** The id of the provider; where only one is connected it need not be said. */
  @IsOptional()
  @IsString({ message: 'must be the id of a provider.' })
  @MaxLength(80, tooLong(80))
  provider?: string;

  /** What the provider calls it. */
  @IsString(words('small'))
  @IsFilled(words('small'))
  @MaxLength(80, tooLong(80))
  pack!: string;
}

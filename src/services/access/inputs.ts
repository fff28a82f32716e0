import { BUSINESS_KINDS, type BusinessKind } from '@/core/wording/context';
import type { HoursRule } from '@/core/clearance/rules';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  IsUrl,
  Matches,
  Max,
  MaxLength,
  Min,
  Type,
  ValidateNested,
} from '@/services/kit/validation';
import { IsStamp, IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';

const WEB = { protocols: ['https', 'http'], require_protocol: true, require_tld: false };
const A_LINK = { message: 'must be the address of a page, such as https://example.org/terms, or null.' };
const A_BASE = {
  message: 'must be a host of yours with its scheme, such as https://go.example.org, or null.',
};
const A_CAP = { message: 'must be a whole number from 0 to 100, or left out for no cap.' };
const A_PRICE = { message: 'must be a whole number of credits from 0 to 1000.' };

/** What changes of a workspace; what is left out stays. */
export class WorkspaceInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsStamp()
  stamp!: number;

  @IsOptional()
  @IsString(words('Juniper Gap Observatory'))
  @IsFilled({ message: 'must not be empty: people read it in every confirmation.' })
  @MaxLength(60, tooLong(60))
  business?: string;

  /** Where a human answers: a number or an e-mail address. */
  @IsOptional()
  @IsString(words('(719) 555-0110'))
  @IsFilled({ message: 'must not be empty: it stands in every answer to HELP.' })
  @MaxLength(80, tooLong(80))
  contact?: string;

  /** Two letters: numbers without a country code are read as its. */
  @IsOptional()
  @Matches(/^[A-Z]{2}$/, { message: 'must be two capital letters, such as US.' })
  country?: string;

  @IsOptional()
  @IsString(words('America/Denver'))
  @MaxLength(60, tooLong(60))
  zone?: string;

  /** Most messages to one person in seven days, over all programs; null: no cap. */
  @IsOptional()
  @IsInt(A_CAP)
  @Min(0, A_CAP)
  @Max(100, A_CAP)
  weekly_cap?: number | null;

  @IsOptional()
  @IsInt(A_PRICE)
  @Min(0, A_PRICE)
  @Max(1_000, A_PRICE)
  credits_per_part?: number;

  /** Of a picture message, however many files it carries. */
  @IsOptional()
  @IsInt(A_PRICE)
  @Min(0, A_PRICE)
  @Max(1_000, A_PRICE)
  credits_per_picture?: number;

  /** Whoever nearly types a keyword is asked at once whether they meant it. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  asks_near_misses?: boolean;

  /** Where the terms are, and the privacy page: posters and forms link them. */
  @IsOptional()
  @IsUrl(WEB, A_LINK)
  @MaxLength(200, tooLong(200))
  terms_url?: string | null;

  @IsOptional()
  @IsUrl(WEB, A_LINK)
  @MaxLength(200, tooLong(200))
  privacy_url?: string | null;

  /** What short links begin with: a host of one's own that leads to this server. Null: ours. */
  @IsOptional()
  @IsUrl(WEB, A_BASE)
  @Matches(/^https?:\/\/[^/?#]+\/?$/, A_BASE)
  @MaxLength(80, tooLong(80))
  link_base?: string | null;
}

/** How wordings are checked; what is left out stays. */
export class WordingInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsStamp()
  stamp!: number;

  /** Some words are risky for one business and everyday language for another. */
  @IsOptional()
  @IsIn(BUSINESS_KINDS, { message: `must be one of ${BUSINESS_KINDS.join(', ')}.` })
  business_kind?: BusinessKind;

  /** Hosts of one's own, such as example.org: links to others are pointed out. */
  @IsOptional()
  @IsArray({ message: 'must be a list of hosts, such as example.org.' })
  @ArrayMaxSize(20, { message: 'holds more than 20 hosts.' })
  @IsString({ each: true, message: 'must be a list of hosts, such as example.org.' })
  @MaxLength(200, { each: true, ...tooLong(200) })
  hosts?: string[];

  /** By code of a finding: must, should, hint or off. */
  @IsOptional()
  @IsObject({ message: 'must be an object of weights by code, such as {"shouting": "must"}.' })
  weights?: Record<string, unknown>;
}

const A_SHARE = { message: 'must be a share of a hundred people, more than 0 and at most 100; null: never.' };

/** Shares of a hundred people over which a broadcast is held by itself; what is left out stays, null: never. */
export class LimitsInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsStamp()
  stamp!: number;

  @IsOptional()
  @IsNumber({}, A_SHARE)
  @Min(0.01, A_SHARE)
  @Max(100, A_SHARE)
  opt_outs?: number | null;

  @IsOptional()
  @IsNumber({}, A_SHARE)
  @Min(0.01, A_SHARE)
  @Max(100, A_SHARE)
  spam?: number | null;

  @IsOptional()
  @IsNumber({}, A_SHARE)
  @Min(0.01, A_SHARE)
  @Max(100, A_SHARE)
  failures?: number | null;
}

export class CreditsInput {
  /** Below zero: a correction. */
  @IsInt({ message: 'must be a whole number of credits.' })
  @Min(-10_000_000, { message: 'must be at least -10000000.' })
  @Max(10_000_000, { message: 'must be at most 10000000.' })
  credits!: number;

  @IsString(words('bought in November'))
  @IsFilled({ message: 'must not be empty: it stands in the ledger.' })
  @MaxLength(120, tooLong(120))
  reason!: string;
}

export class WindowInput {
  @IsArray({ message: 'must be a list of weekdays, 1 for Monday to 7 for Sunday.' })
  @ArrayMinSize(1, { message: 'names no weekday.' })
  @ArrayMaxSize(7, { message: 'holds more than seven weekdays.' })
  @ArrayUnique({ message: 'names a weekday twice.' })
  @IsInt({ each: true, message: 'must be a list of weekdays, 1 for Monday to 7 for Sunday.' })
  @Min(1, { each: true, message: 'must be a list of weekdays, 1 for Monday to 7 for Sunday.' })
  @Max(7, { each: true, message: 'must be a list of weekdays, 1 for Monday to 7 for Sunday.' })
  days!: number[];

  @Matches(/^([01]\d|2[0-3]):[0-5]\d$/, { message: 'must be a time of day, such as 09:00.' })
  from!: string;

  @Matches(/^([01]\d|2[0-3]):[0-5]\d$|^24:00$/, { message: 'must be a time of day, such as 20:00.' })
  to!: string;
}

export class LimitInput {
  @IsInt({ message: 'must be a whole number, such as 3.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(100, { message: 'must be at most 100.' })
  count!: number;

  @IsInt({ message: 'must be a whole number of hours, such as 24.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(720, { message: 'must be at most 720.' })
  hours!: number;
}

/** The hours in which something may be sent to people of a place. */
export class RuleInput {
  /** A state by its two letters, another country as `country.DE`, or `everywhere` for those that have no rule of their own. */
  @IsString(words('CO'))
  @MaxLength(10, tooLong(10))
  where!: string;

  /** The law or the advice it follows. */
  @IsString(words('Colo. Rev. Stat. 6-1-904'))
  @IsFilled({ message: 'must not be empty: whoever asks later wants to know why.' })
  @MaxLength(200, tooLong(200))
  source!: string;

  @IsArray({ message: 'must be a list of spans of hours.' })
  @ArrayMinSize(1, { message: 'must name at least one span of hours.' })
  @ArrayMaxSize(14, { message: 'holds more than 14 spans.' })
  @IsObject({ each: true, message: 'must be a list of spans, each with days, from and to.' })
  @ValidateNested({ each: true })
  @Type(() => WindowInput)
  windows!: HoursRule['windows'];

  /** At most `count` messages on one subject in so many `hours`. */
  @IsOptional()
  @IsObject({ message: 'must be an object with count and hours.' })
  @ValidateNested()
  @Type(() => LimitInput)
  limit?: HoursRule['limit'];
}

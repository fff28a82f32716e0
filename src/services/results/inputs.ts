import { CHANNELS, type Channel } from '@/core/message/channel';
import { GRAINS, MOST_DAYS, type Grain } from '@/core/results/spans';
import { DIMENSIONS, OUTCOMES, type Dimension, type Outcome } from '@/core/results/works';
import { EVERY, REPORT_PLACES, type Every, type ReportPlace } from '@/core/results/report';
import { IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
} from '@/services/kit/validation';

const DAY = /^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])$/;

/** A span of whole days in the workspace’s zone. Left out: the 28 days up to yesterday. */
export class SpanInput {
  /** So many days up to yesterday, in place of a first and a last one. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of days.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(MOST_DAYS, { message: `must be at most ${MOST_DAYS}.` })
  days?: number;

  /** The first day. */
  @IsOptional()
  @Matches(DAY, { message: 'must be a day, such as 2026-11-01.' })
  from?: string;

  /** The last day. */
  @IsOptional()
  @Matches(DAY, { message: 'must be a day, such as 2026-11-28.' })
  to?: string;

  /** Only of this program, by id. */
  @IsOptional()
  @IsString(words('prg_…'))
  @MaxLength(60, tooLong(60))
  program?: string;

  @IsOptional()
  @IsIn(CHANNELS, { message: `must be one of ${CHANNELS.join(', ')}.` })
  channel?: Channel;
}

export class OverviewInput extends SpanInput {
  /** Left out: days up to 35 days, weeks up to 250, months beyond. */
  @IsOptional()
  @IsIn(GRAINS, { message: `must be one of ${GRAINS.join(', ')}.` })
  by?: Grain;
}

export class WorksInput extends SpanInput {
  /** What is compared. */
  @IsIn(DIMENSIONS, { message: `must be one of ${DIMENSIONS.join(', ')}.` })
  compare!: Dimension;

  /** By what; left out: the usual one. */
  @IsOptional()
  @IsIn(OUTCOMES, { message: `must be one of ${OUTCOMES.join(', ')}.` })
  outcome?: Outcome;
}

/** A page of results that is kept under a name. */
export class ReportInput {
  @IsString(words('Monday figures'))
  @IsFilled({ message: 'must not be empty: the name is how you find it again.' })
  @MaxLength(80, tooLong(80))
  name!: string;

  /** Which page. */
  @IsIn(REPORT_PLACES, { message: `must be one of ${REPORT_PLACES.join(', ')}.` })
  place!: ReportPlace;

  /** What it is asked for, as in its address: `days=28&program=prg_…&compare=keyword`. */
  @IsOptional()
  @IsString(words('days=28'))
  @MaxLength(1_000, tooLong(1_000))
  query?: string;

  /** How often it is sent; left out: not by itself. */
  @IsOptional()
  @IsIn(EVERY, { message: `must be one of ${EVERY.join(', ')}.` })
  every?: Every;

  /** At which hour of the workspace’s zone; left out: 7. */
  @IsOptional()
  @IsInt({ message: 'must be a whole hour from 0 to 23.' })
  @Min(0, { message: 'must be a whole hour from 0 to 23.' })
  @Max(23, { message: 'must be a whole hour from 0 to 23.' })
  at_hour?: number;

  /** To whom it is sent: e-mail addresses. */
  @IsOptional()
  @IsArray({ message: 'must be a list of e-mail addresses.' })
  @ArrayMaxSize(20, { message: 'holds more than 20 addresses.' })
  @IsString({ each: true, message: 'must be a list of e-mail addresses.' })
  @MaxLength(254, { each: true, ...tooLong(254) })
  recipients?: string[];
}

/** For how long a link shows it. */
export class ShareReportInput {
  @IsOptional()
  @IsInt({ message: 'must be a whole number of days.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(365, { message: 'must be at most 365.' })
  days?: number;
}

/** Of which address everything is proved. */
export class ProofInput {
  @IsString(words('+17195550142'))
  @IsFilled({ message: 'must be a number or an e-mail address.' })
  @MaxLength(254, tooLong(254))
  address!: string;
}

/** A proof that is to be checked. */
export class CheckProofInput {
  /** The document as JSON text, as it was given. */
  @IsString({ message: 'must be the document as JSON text.' })
  @MaxLength(20_000_000, tooLong(20_000_000))
  document!: string;
}

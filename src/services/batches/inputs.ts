import {
  IsString,
  MaxLength,
  IsIn,
  IsOptional,
  IsArray,
  ArrayMaxSize,
  IsInt,
  Min,
  Max,
} from '@/services/kit/validation';
import { IsCondition, IsFilled, IsInstant } from '@/services/kit/checks';
import { tooLong } from '@/services/kit/inputs';

export const BATCH_ACTIONS = [
  'add-label',
  'take-label',
  'stage',
  'owner',
  'opt-out',
  'sequence',
  'keep',
  'delete',
] as const;

export class BatchInput {
  @IsString({ message: 'must be text: the name is how you find it again.' })
  @IsFilled({ message: 'must not be empty: the name is how you find it again.' })
  @MaxLength(120, tooLong(120))
  name!: string;

  @IsIn(BATCH_ACTIONS, { message: `must be one of: ${BATCH_ACTIONS.join(', ')}.` })
  action!: (typeof BATCH_ACTIONS)[number];

  /** The tag, list, stage, teammate or program; left out for a stage or an owner: none. */
  @IsOptional()
  @IsString({ message: 'must be the id of a tag, list, stage, teammate or program.' })
  @MaxLength(60, tooLong(60))
  id?: string;

  /** Ids of people; left out: everybody who meets `condition` and `search` now. */
  @IsOptional()
  @IsArray({ message: 'must be a list of ids of people.' })
  @ArrayMaxSize(10_000, { message: 'holds more than 10000 people: send a condition instead.' })
  @IsString({ each: true, message: 'must be a list of ids of people.' })
  people?: string[];

  /** A condition as JSON text. */
  @IsOptional()
  @IsCondition()
  condition?: string;

  @IsOptional()
  @IsString({ message: 'must be text.' })
  @MaxLength(80, tooLong(80))
  search?: string;

  /** Left out: now, after the grace. */
  @IsOptional()
  @IsInstant()
  at?: string;

  @IsOptional()
  @IsInt({ message: 'must be a whole number of seconds.' })
  @Min(0, { message: 'must be 0 or more.' })
  @Max(3_600, { message: 'must be at most 3600.' })
  grace_seconds?: number;

  @IsOptional()
  @IsInt({ message: 'must be a whole number of people.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(10_000, { message: 'must be at most 10000.' })
  pace_count?: number;

  @IsOptional()
  @IsInt({ message: 'must be a whole number of seconds.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(604_800, { message: 'must be at most a week.' })
  pace_seconds?: number;

  /** For deleting: the number of people, typed. */
  @IsOptional()
  @IsInt({ message: 'must be the number of people.' })
  confirm_count?: number;
}

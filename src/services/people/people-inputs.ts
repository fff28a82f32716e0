import { OWN_KINDS, type OwnFieldKind } from '@/core/audience/fields';
import { IsFilled, IsInstant } from '@/services/kit/checks';
import { CreatePersonInput, tooLong } from '@/services/inputs';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  Type,
  ValidateNested,
} from '@/services/kit/validation';

/** What the outside may send about people: fields, segments, imports, batches. See `inputs.ts`. */

export class FieldInput {
  @IsString({ message: 'must be text, such as "Favourite planet".' })
  @IsFilled({ message: 'must not be empty: name the field.' })
  @MaxLength(60, tooLong(60))
  label!: string;

  @IsIn(OWN_KINDS as OwnFieldKind[], { message: `must be one of: ${OWN_KINDS.join(', ')}.` })
  kind!: OwnFieldKind;

  @IsOptional()
  @IsArray({ message: 'must be a list of choices.' })
  @ArrayMaxSize(200, { message: 'holds more than 200 choices.' })
  @IsString({ each: true, message: 'must be a list of choices.' })
  @MaxLength(80, { each: true, message: 'holds a choice longer than 80 characters.' })
  options?: string[];
}

export class SegmentInput {
  @IsString({ message: 'must be text, such as "Regulars in Colorado".' })
  @IsFilled({ message: 'must not be empty: name the segment.' })
  @MaxLength(80, tooLong(80))
  name!: string;

  /** A condition as JSON text. */
  @IsString({ message: 'must be a condition as JSON text.' })
  @MaxLength(50_000, tooLong(50_000))
  condition!: string;

  @IsOptional()
  @IsArray({ message: 'must be a list of columns.' })
  @ArrayMaxSize(40, { message: 'holds more than 40 columns.' })
  @IsString({ each: true, message: 'must be a list of columns.' })
  @MaxLength(60, { each: true, message: 'holds a column that does not exist.' })
  columns?: string[];

  @IsOptional()
  @IsString({ message: 'must be a column, with a minus before it for the other way round.' })
  @Matches(/^-?[a-z][a-z0-9_.]{0,60}$/, {
    message: 'must be a column, with a minus before it for the other way round.',
  })
  sort?: string;
}

export class SaveSegmentInput extends SegmentInput {
  @IsInt({ message: 'must be the version that was opened.' })
  @Min(1, { message: 'must be the version that was opened.' })
  version!: number;
}

export const BATCH_ACTIONS = [
  'add-label',
  'take-label',
  'stage',
  'owner',
  'opt-out',
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
  @IsString({ message: 'must be a condition as JSON text.' })
  @MaxLength(50_000, tooLong(50_000))
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

export class ImportColumnInput {
  @Matches(
    /^(number|first_name|last_name|full_name|email|region|postal_code|tags|new|skip|own\.[a-z][a-z0-9_]{0,39})$/,
    {
      message: 'must be a field, "new" or "skip".',
    },
  )
  to!: string;

  @IsOptional()
  @IsString({ message: 'must be text.' })
  @MaxLength(60, tooLong(60))
  label?: string;

  @IsOptional()
  @IsIn(OWN_KINDS as OwnFieldKind[], { message: `must be one of: ${OWN_KINDS.join(', ')}.` })
  kind?: OwnFieldKind;

  @IsOptional()
  @IsIn(['day-month', 'month-day'], { message: 'must be day-month or month-day.' })
  order?: 'day-month' | 'month-day';
}

export class ImportInput {
  @IsString({ message: 'must be text: the name is how you find it again.' })
  @MaxLength(120, tooLong(120))
  name!: string;

  @IsArray({ message: 'must be a list, one for each column of the file.' })
  @ArrayMaxSize(500, { message: 'holds more than 500 columns.' })
  @ValidateNested({ each: true })
  @Type(() => ImportColumnInput)
  columns!: ImportColumnInput[];

  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  update?: boolean;

  @IsOptional()
  @IsArray({ message: 'must be a list of tags.' })
  @ArrayMaxSize(20, { message: 'holds more than 20 tags.' })
  @IsString({ each: true, message: 'must be a list of tags.' })
  tags?: string[];

  @IsOptional()
  @IsString({ message: 'must be the name of a list.' })
  @MaxLength(60, tooLong(60))
  list?: string;

  @IsOptional()
  @IsString({ message: 'must be the id of a program.' })
  program?: string;

  /** What the people agreed to, as it stood on the form. Left out: no consent, nobody becomes textable. */
  @IsOptional()
  @IsString({ message: 'must be text.' })
  @MaxLength(2_000, tooLong(2_000))
  consent_wording?: string;

  @IsOptional()
  @Matches(/^\d{4}-\d{2}-\d{2}$/, { message: 'must be a day, such as 2026-11-24.' })
  consent_date?: string;
}

export class BulkPeopleInput {
  @IsArray({ message: 'must be a list of people.' })
  @ArrayMaxSize(500, { message: 'holds more than 500 people: send them in parts, or import a file.' })
  @ValidateNested({ each: true })
  @Type(() => CreatePersonInput)
  people!: CreatePersonInput[];
}

export class CutInput {
  /** A condition as JSON text; left out: everybody. */
  @IsOptional()
  @IsString({ message: 'must be a condition as JSON text.' })
  @MaxLength(50_000, tooLong(50_000))
  condition?: string;

  @IsOptional()
  @IsString({ message: 'must be text.' })
  @MaxLength(80, tooLong(80))
  search?: string;
}

import {
  IsString,
  MaxLength,
  IsOptional,
  IsArray,
  ArrayMaxSize,
  IsBoolean,
  Matches,
  IsInt,
  Min,
  IsIn,
} from '@/services/kit/validation';
import { IsCondition, IsFilled } from '@/services/kit/checks';
import { tooLong } from '@/services/kit/inputs';
import { OWN_KINDS, type OwnFieldKind } from '@/core/audience/fields';

export class SegmentInput {
  @IsString({ message: 'must be text, such as "Regulars in Colorado".' })
  @IsFilled({ message: 'must not be empty: name the segment.' })
  @MaxLength(80, tooLong(80))
  name!: string;

  /** A condition as JSON text. */
  @IsCondition()
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

export class CutInput {
  /** A condition as JSON text; left out: everybody. */
  @IsOptional()
  @IsCondition()
  condition?: string;

  @IsOptional()
  @IsString({ message: 'must be text.' })
  @MaxLength(80, tooLong(80))
  search?: string;
}

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

  /** Asked of teammates beside a thread. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  noted?: boolean;
}

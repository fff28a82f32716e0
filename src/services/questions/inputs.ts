import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsInt,
  IsOptional,
  IsString,
  Max,
  Min,
} from '@/services/kit/validation';

export class PersonalLinkInput {
  /** What it asks for: `name`, `email`, `postal_code`, `own.<key>`; left out: whatever is not known of them. */
  @IsOptional()
  @IsArray({ message: 'must be a list of fields.' })
  @ArrayMaxSize(30, { message: 'holds more than 30.' })
  @ArrayUnique({ message: 'names one twice.' })
  @IsString({ each: true, message: 'must be a list of fields.' })
  fields?: string[];

  /** How many days it holds; left out: 14. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of days.' })
  @Min(1, { message: 'must be at least 1 day.' })
  @Max(365, { message: 'must be at most 365 days.' })
  days?: number;
}

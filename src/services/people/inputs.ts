import {
  IsOptional,
  Matches,
  IsString,
  MaxLength,
  IsIn,
  IsObject,
  ValidateNested,
  Type,
  IsArray,
  ArrayMaxSize,
} from '@/services/kit/validation';
import { CHANNELS, type Channel } from '@/core/message/channel';
import { words, tooLong } from '@/services/kit/inputs';
import { IsFilled, IsInstant } from '@/services/kit/checks';

export class GivenAddressInput {
  @IsString({ message: 'must be a phone number or an e-mail address as text, such as "(303) 555-0123".' })
  @MaxLength(254, tooLong(254))
  address!: string;
}

/** One of the addresses somebody has. */
export class OwnAddressInput extends GivenAddressInput {}

export class AddressInput {
  @IsOptional()
  @Matches(/^[A-Z]{2}$/, { message: 'must be a two-letter state, such as CO.' })
  region?: string;

  @IsOptional()
  @Matches(/^\d{5}(-\d{4})?$/, { message: 'must be a ZIP code, such as 81201.' })
  postal_code?: string;
}

export class ConsentInput {
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program!: string;

  @IsString(words('I agree to get texts about the night sky.'))
  @IsFilled({ message: 'must say which words the person agreed to.' })
  @MaxLength(2_000, tooLong(2_000))
  wording!: string;

  @IsOptional()
  @IsString(words('paper form at the desk'))
  @MaxLength(200, tooLong(200))
  source?: string;

  @IsOptional()
  @IsInstant()
  obtained_at?: string;

  @IsOptional()
  @IsIn(CHANNELS, { message: `must be one of ${CHANNELS.join(', ')}.` })
  channel?: Channel;
}

export class CreatePersonInput {
  @IsOptional()
  @IsString({ message: 'must be a phone number as text, such as "(303) 555-0123".' })
  @MaxLength(40, tooLong(40))
  number?: string;

  @IsOptional()
  @IsString(words('Ana'))
  @MaxLength(120, tooLong(120))
  first_name?: string;

  @IsOptional()
  @IsString(words('Ortiz'))
  @MaxLength(120, tooLong(120))
  last_name?: string;

  @IsOptional()
  @IsString(words('ana@example.org'))
  @MaxLength(254, tooLong(254))
  email?: string;

  @IsOptional()
  @Matches(/^[A-Z]{2}$/, { message: 'must be a two-letter state, such as CO.' })
  region?: string;

  @IsOptional()
  @Matches(/^\d{5}(-\d{4})?$/, { message: 'must be a ZIP code, such as 81201.' })
  postal_code?: string;

  @IsOptional()
  @IsString(words('America/Denver'))
  @MaxLength(60, tooLong(60))
  zone?: string;

  @IsOptional()
  @IsObject({ message: 'must be an object of field names and texts.' })
  fields?: Record<string, string>;

  @IsOptional()
  @IsObject({ message: 'must be an object with program and wording.' })
  @ValidateNested()
  @Type(() => ConsentInput)
  consent?: ConsentInput;
}

export class BulkPeopleInput {
  @IsArray({ message: 'must be a list of people.' })
  @ArrayMaxSize(500, { message: 'holds more than 500 people: send them in parts, or import a file.' })
  @ValidateNested({ each: true })
  @Type(() => CreatePersonInput)
  people!: CreatePersonInput[];
}

import { CHANNELS, type Channel } from '@/core/message/channel';
import {
  IsIn,
  IsOptional,
  IsString,
  MaxLength,
  IsObject,
  ValidateNested,
  Type,
} from '@/services/kit/validation';
import { tooLong, words, LONGEST_TEXT } from '@/services/kit/inputs';
import { IsInstant } from '@/services/kit/checks';
import { AddressInput } from '@/services/people/inputs';

export class ClearanceCheckInput {
  @IsOptional()
  @IsString({ message: 'must be a phone number as text, such as "+13035550123".' })
  @MaxLength(40, tooLong(40))
  number?: string;

  @IsOptional()
  @IsString({ message: 'must be the id of a person.' })
  @MaxLength(60, tooLong(60))
  person_id?: string;

  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program!: string;

  @IsOptional()
  @IsString({ message: 'must be text.' })
  @MaxLength(LONGEST_TEXT, tooLong(LONGEST_TEXT))
  body?: string;

  /** Left out: by text. */
  @IsOptional()
  @IsIn(CHANNELS, { message: `must be one of ${CHANNELS.join(', ')}.` })
  channel?: Channel;

  @IsInstant()
  at!: string;

  @IsOptional()
  @IsObject({ message: 'must be an object with region and postal_code.' })
  @ValidateNested()
  @Type(() => AddressInput)
  address?: AddressInput;
}

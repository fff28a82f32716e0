import { HAPPENING_KINDS, type HappeningKind } from '@/core/happening/kinds';
import { tooLong } from '@/services/kit/inputs';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsOptional,
  IsString,
  MaxLength,
} from '@/services/kit/validation';

export class WebhookInput {
  @IsString({ message: 'must be an address, such as https://example.org/hooks.' })
  @MaxLength(500, tooLong(500))
  url!: string;

  @IsOptional()
  @IsString({ message: 'must be text, such as "mail house".' })
  @MaxLength(80, tooLong(80))
  note?: string;

  @IsArray({ message: 'must be a list of kinds of happening.' })
  @ArrayMinSize(1, { message: 'names no kind: choose at least one.' })
  @ArrayMaxSize(50, { message: 'names more kinds than there are.' })
  @IsIn(HAPPENING_KINDS, { each: true, message: `must be of: ${HAPPENING_KINDS.join(', ')}.` })
  kinds!: HappeningKind[];
}

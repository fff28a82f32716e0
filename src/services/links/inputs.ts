import { tooLong } from '@/services/kit/inputs';
import { IsString, MaxLength } from '@/services/kit/validation';

export class ChangeTargetInput {
  @IsString({ message: 'must be the address of a page, such as https://example.org/tickets.' })
  @MaxLength(2_000, tooLong(2_000))
  url!: string;
}

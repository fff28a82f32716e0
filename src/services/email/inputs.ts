import { IsOptional, IsString, MaxLength } from '@/services/kit/validation';
import { tooLong, words } from '@/services/kit/inputs';

export class MailFromInput {
  @IsOptional()
  @IsString(words('hello@example.org'))
  @MaxLength(254, tooLong(254))
  from?: string;

  @IsOptional()
  @IsString(words('Juniper Gap Observatory'))
  @MaxLength(120, tooLong(120))
  name?: string;

  @IsOptional()
  @IsString(words('1 Hill Road, Juniper Gap CO 81200'))
  @MaxLength(300, tooLong(300))
  postal_address?: string;
}

import { IsBase64, IsOptional, IsString, MaxLength } from '@/services/kit/validation';
import { tooLong, words } from '@/services/kit/inputs';
import { IsFilled } from '@/services/kit/checks';

const LONGEST_ALT = 300;
/** In base 64, as the API takes a file: three quarters of that are the file. */
export const LARGEST_AS_BASE64 = 17_000_000;

export class KeepFileInput {
  @IsString(words('saturn.jpg'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(120, tooLong(120))
  name!: string;

  /** What the file holds, in base 64. It is read by what it holds, whatever it is called. */
  @IsBase64({}, { message: 'must be the file in base 64.' })
  @MaxLength(LARGEST_AS_BASE64, tooLong(LARGEST_AS_BASE64))
  content!: string;

  /** What a picture shows, for who cannot see it. */
  @IsOptional()
  @IsString(words('Saturn with its ring'))
  @MaxLength(LONGEST_ALT, tooLong(LONGEST_ALT))
  alt?: string;
}

export class DescribeFileInput {
  @IsString(words('Saturn with its ring'))
  @MaxLength(LONGEST_ALT, tooLong(LONGEST_ALT))
  alt!: string;
}

import { IsStamp } from '@/services/kit/checks';
import { IsObject, IsOptional, IsString, MaxLength } from '@/services/kit/validation';
import { tooLong } from '@/services/kit/inputs';

export class NewPosterInput {
  /** The keyword it is a poster of, by id; or the form. */
  @IsOptional()
  @IsString({ message: 'must be the id of a keyword.' })
  @MaxLength(80, tooLong(80))
  keyword?: string;

  @IsOptional()
  @IsString({ message: 'must be the id of a form.' })
  @MaxLength(80, tooLong(80))
  form?: string;

  /** Left out: one to begin with. */
  @IsOptional()
  @IsObject({ message: 'must be a poster in the published JSON form.' })
  document?: object;
}

export class ChangePosterInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsStamp()
  stamp!: number;

  @IsObject({ message: 'must be a poster in the published JSON form.' })
  document!: object;
}

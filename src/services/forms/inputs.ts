import { IsBoolean, IsObject, IsOptional, IsString, MaxLength } from '@/services/kit/validation';
import { IsStamp, IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';
import { GivesInput } from '@/services/programs/inputs';

export class NewFormInput {
  @IsString(words('Sign up for clear skies'))
  @IsFilled({ message: 'must not be empty: name the form.' })
  @MaxLength(80, tooLong(80))
  name!: string;

  /** The program that people join by it, by id or name. */
  @IsString(words('Clear Sky Alerts'))
  @MaxLength(80, tooLong(80))
  program!: string;

  /** As it was exported; left out: a form with name and number to begin with. */
  @IsOptional()
  @IsObject({ message: 'must be a form in the published JSON form.' })
  document?: object;
}

/** What changes of a form; what is left out stays. What is shown changes when it is published. */
export class ChangeFormInput extends GivesInput {
  @IsOptional()
  @IsString(words('Sign up for clear skies'))
  @IsFilled({ message: 'must not be empty: name the form.' })
  @MaxLength(80, tooLong(80))
  name?: string;

  @IsOptional()
  @IsObject({ message: 'must be a form in the published JSON form.' })
  document?: object;

  /** The source whose inquiries it brings, by id; null: none. */
  @IsOptional()
  @IsString({ message: 'must be the id of a source, or null.' })
  @MaxLength(80, tooLong(80))
  source?: string | null;

  /** Closed: it says so, and takes nothing. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  closed?: boolean;
}

export class PublishFormInput {
  /** As it was read: what is published is what was looked at. */
  @IsStamp()
  stamp!: number;
}

import { IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';
import { IsInt, IsNumber, IsOptional, IsString, Max, MaxLength, Min } from '@/services/kit/validation';

export class ConnectVoicemailInput {
  /** Where its interface begins. */
  @IsString(words('https://voicemail.example.org/v1'))
  @IsFilled({ message: 'must not be empty: whoever leaves the voicemails says where their interface is.' })
  @MaxLength(500, tooLong(500))
  url!: string;

  /** What they call the account. */
  @IsString(words('juniper'))
  @IsFilled({ message: 'must not be empty: they call the account so.' })
  @MaxLength(100, tooLong(100))
  account!: string;

  /** By which they know that it is us. */
  @IsString(words('a long secret word'))
  @IsFilled({ message: 'must not be empty: they gave one with the account.' })
  @MaxLength(500, tooLong(500))
  token!: string;
}

/** As much as is said in two minutes. */
export const LONGEST_WORDS = 2_000;
/** Base64 of a minute at 48 kHz. */
const LONGEST_WAVE = 8_000_000;

export class NewVoiceMessageInput {
  @IsString(words('Second look, spring'))
  @IsFilled({ message: 'must not be empty: the name is how you find it again.' })
  @MaxLength(80, tooLong(80))
  name!: string;

  /** What is said in it. */
  @IsString(words('Hello, this is …'))
  @IsFilled({ message: 'must not be empty: write down what is said.' })
  @MaxLength(LONGEST_WORDS, tooLong(LONGEST_WORDS))
  words!: string;

  /** A WAVE file of one channel with 16 bits, as base64. It is cut, made even and kept at 16 kHz. */
  @IsString(words('UklGR…'))
  @IsFilled({ message: 'must not be empty: it is the sound, a WAVE file as base64.' })
  @MaxLength(LONGEST_WAVE, tooLong(LONGEST_WAVE))
  wave!: string;
}

export class NewRecordingInput {
  @IsString(words('Hello, this is …'))
  @IsFilled({ message: 'must not be empty: write down what is said.' })
  @MaxLength(LONGEST_WORDS, tooLong(LONGEST_WORDS))
  words!: string;

  /** Left out: the sound of the version before, with other words beside it. */
  @IsOptional()
  @IsString(words('UklGR…'))
  @MaxLength(LONGEST_WAVE, tooLong(LONGEST_WAVE))
  wave?: string;
}

export class PhonesInput {
  /** How long a call takes, with what is written down after it. */
  @IsInt({ message: 'must be a whole number of seconds.' })
  @Min(15, { message: 'must be at least 15.' })
  @Max(3_600, { message: 'must be at most 3600.' })
  call_seconds!: number;

  /** The share of calls that may find nobody free, such as 0.05. */
  @IsNumber({}, { message: 'must be a number between 0.01 and 0.5.' })
  @Min(0.01, { message: 'must be at least 0.01.' })
  @Max(0.5, { message: 'must be at most 0.5.' })
  may_be_busy!: number;
}

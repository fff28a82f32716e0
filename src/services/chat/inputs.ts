import { CATEGORIES, type Category } from '@/core/chat/network';
import {
  IsArray,
  ArrayMaxSize,
  IsIn,
  IsObject,
  IsOptional,
  IsString,
  MaxLength,
} from '@/services/kit/validation';
import { IsStamp, IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';

export class ConnectChatInput {
  /** Where the network’s interface begins. */
  @IsString(words('https://chat.example.org/v1'))
  @IsFilled({ message: 'must not be empty: the network says where its interface is.' })
  @MaxLength(500, tooLong(500))
  url!: string;

  /** What the network calls the account. */
  @IsString(words('juniper'))
  @IsFilled({ message: 'must not be empty: the network calls the account so.' })
  @MaxLength(100, tooLong(100))
  account!: string;

  /** By which the network knows that it is us. */
  @IsString(words('a long secret word'))
  @IsFilled({ message: 'must not be empty: the network gave one with the account.' })
  @MaxLength(500, tooLong(500))
  token!: string;
}

export class ChatTemplateInput {
  /** The account it goes from, by id; left out: the first that is connected. */
  @IsOptional()
  @IsString(words('cha_…'))
  @MaxLength(80, tooLong(80))
  account?: string;

  /** Small letters, digits and low lines. */
  @IsString(words('sky_week'))
  @IsFilled({ message: 'must not be empty: the network knows it by its name.' })
  @MaxLength(120, tooLong(120))
  name!: string;

  @IsIn(CATEGORIES, { message: `must be one of ${CATEGORIES.join(', ')}.` })
  category!: Category;

  /** BCP 47. */
  @IsString(words('en'))
  @MaxLength(20, tooLong(20))
  language!: string;
}

/** A version of a template in one language; what is left out stays. */
export class ChatWordingInput {
  @IsOptional()
  @IsString(words('Saturn week'))
  @MaxLength(500, tooLong(500))
  header?: string;

  /** Unicode MessageFormat 2. */
  @IsOptional()
  @IsString(words('Hi there, Saturn is up tonight.'))
  @MaxLength(20_000, tooLong(20_000))
  body?: string;

  @IsOptional()
  @IsString(words('Reply STOP to stop'))
  @MaxLength(500, tooLong(500))
  footer?: string;

  /** `{kind: "reply", words, leaves?}`, `{kind: "link", words, url}` or `{kind: "call", words, number}`. */
  @IsOptional()
  @IsArray({ message: 'must be a list of buttons.' })
  @ArrayMaxSize(10, { message: 'holds more than ten buttons.' })
  @IsObject({ each: true, message: 'must be a list of buttons, each with kind and words.' })
  buttons?: object[];

  /** What a reviewer reads in place of each field, by the name of its variable. */
  @IsOptional()
  @IsObject({ message: 'must be an object: what a reviewer reads in place of each field.' })
  samples?: object;

  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsStamp()
  stamp!: number;
}

export class NewLanguageInput {
  /** BCP 47. */
  @IsString(words('es'))
  @MaxLength(20, tooLong(20))
  language!: string;
}

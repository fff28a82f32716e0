import { CONTENT, FORMS, type ContentKind, type LegalForm } from '@/core/registration/file';
import { IsStamp, IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from '@/services/kit/validation';

export class ConnectRegistrarInput {
  /** Where the registrar’s interface begins. */
  @IsString(words('https://registrar.example.org/v1'))
  @IsFilled({ message: 'must not be empty: the registrar says where its interface is.' })
  @MaxLength(500, tooLong(500))
  url!: string;

  /** What the registrar calls the account. */
  @IsString(words('juniper'))
  @IsFilled({ message: 'must not be empty: the registrar calls the account so.' })
  @MaxLength(100, tooLong(100))
  account!: string;

  /** By which the registrar knows that it is us. */
  @IsString(words('a long secret word'))
  @IsFilled({ message: 'must not be empty: the registrar gave one with the account.' })
  @MaxLength(500, tooLong(500))
  token!: string;
}

const A_STAMP = 'must be the stamp of what you read, 0 where nothing was kept yet.';
const TRUTH = { message: 'must be true or false.' };
const LEGAL_FORMS = Object.keys(FORMS) as LegalForm[];
const KINDS = Object.keys(CONTENT) as ContentKind[];
const LONGEST_PAGE = 100_000;

const Line =
  (example: string, most = 200): PropertyDecorator =>
  (target, property) => {
    IsOptional()(target, property);
    IsString(words(example))(target, property);
    MaxLength(most, tooLong(most))(target, property);
  };

/** What is told of the business. What is left out stays as it is. */
export class BrandInput {
  @IsStamp(A_STAMP)
  stamp!: number;

  @Line('Juniper Gap Observatory Society')
  legal_name?: string;

  @IsOptional()
  @IsIn(LEGAL_FORMS, { message: `must be one of: ${LEGAL_FORMS.join(', ')}.` })
  form?: LegalForm;

  @Line('12-3456789', 40)
  tax_number?: string;

  /** What the business does. */
  @Line('A public observatory with a planetarium dome.', 1_000)
  about?: string;

  @Line('https://www.example.org', 500)
  website?: string;

  @Line('1 Ridge Road')
  street?: string;

  @Line('Juniper Gap')
  city?: string;

  @Line('CO', 60)
  state?: string;

  @Line('81201', 20)
  postal_code?: string;

  /** ISO 3166-1 alpha-2. */
  @Line('US', 2)
  country?: string;

  @Line('Odile Marchetti')
  contact_name?: string;

  @Line('desk@example.org')
  contact_email?: string;

  @Line('(719) 555-0110', 40)
  contact_phone?: string;

  /** True: we show a privacy page and terms, made from this. False: yours are read. */
  @IsOptional()
  @IsBoolean(TRUTH)
  our_pages?: boolean;

  @Line('https://www.example.org/privacy', 500)
  privacy_url?: string;

  /** What your page says. */
  @Line('We do not share …', LONGEST_PAGE)
  privacy_text?: string;

  @Line('https://www.example.org/terms', 500)
  terms_url?: string;

  @Line('Message and data rates may apply …', LONGEST_PAGE)
  terms_text?: string;
}

const SAMPLES = { message: 'must be a list of texts, at most five; empty for what was sent.' };
const A_MONTH = { message: 'must be a whole number of texts a month, or null for what it was so far.' };

/** What is told of a program beside what it says itself. What is left out stays as it is. */
export class ProgramFileInput {
  @IsStamp(A_STAMP)
  stamp!: number;

  /** What is sent, to whom and why. */
  @Line('People who asked for it are told when the sky is clear.', 1_000)
  about?: string;

  @IsOptional()
  @IsArray({ message: `must be a list of: ${KINDS.join(', ')}.` })
  @IsIn(KINDS, { each: true, message: `must be a list of: ${KINDS.join(', ')}.` })
  content?: ContentKind[];

  @IsOptional()
  @IsBoolean(TRUTH)
  links?: boolean;

  @IsOptional()
  @IsBoolean(TRUTH)
  calls?: boolean;

  @IsOptional()
  @IsBoolean(TRUTH)
  adults?: boolean;

  @IsOptional()
  @IsArray(SAMPLES)
  @ArrayMaxSize(5, SAMPLES)
  @IsString({ each: true, ...SAMPLES })
  @MaxLength(1_600, { each: true, ...tooLong(1_600) })
  samples?: string[];

  @IsOptional()
  @IsInt(A_MONTH)
  @Min(0, A_MONTH)
  @Max(100_000_000, A_MONTH)
  per_month?: number | null;
}

export class AnswerQuestionInput {
  @IsString(words('It stands on the poster at the ticket desk.'))
  @IsFilled({ message: 'must not be empty: the reviewer waits for words.' })
  @MaxLength(2_000, tooLong(2_000))
  answer!: string;
}

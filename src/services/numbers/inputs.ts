import type { Registration, SenderKind } from '@/core/clearance/sender';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from '@/services/kit/validation';
import { IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';

const KINDS: SenderKind[] = ['local', 'toll-free', 'short-code'];
const REGISTRATIONS: Registration[] = ['registered', 'in-review', 'question', 'refused', 'none'];
const PROGRAMS = { message: 'must be a list of programs, by id or name.' };
const A_PACE = { message: 'must be a number of parts a second from 0.1 to 1000, as the carrier says.' };
const A_CARRIER = { message: 'must be a carrier, by id or name.' };
const A_CAP = { message: 'must be a whole number of texts from 1 to 1000000, or left out for no cap.' };

export class SenderNumberInput {
  @IsString(words('+17195550110'))
  @MaxLength(40, tooLong(40))
  number!: string;

  @IsIn(KINDS, { message: `must be one of: ${KINDS.join(', ')}.` })
  kind!: SenderKind;

  /** How far its registration with the carrier is; texts leave from registered ones only. */
  @IsIn(REGISTRATIONS, { message: `must be one of: ${REGISTRATIONS.join(', ')}.` })
  registration!: Registration;

  /** Left out: what is usual for its kind. */
  @IsOptional()
  @IsNumber({}, A_PACE)
  @Min(0.1, A_PACE)
  @Max(1_000, A_PACE)
  parts_per_second?: number;

  @IsOptional()
  @IsInt(A_CAP)
  @Min(1, A_CAP)
  @Max(1_000_000, A_CAP)
  daily_cap?: number;

  /** It sends and takes picture messages, as the carrier says. Left out: it does not. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  mms?: boolean;

  /** The carrier that carries its texts, by id or name. Left out: the installation's. */
  @IsOptional()
  @IsString(A_CARRIER)
  @MaxLength(80, tooLong(80))
  carrier?: string;

  /** The programs that write from it. */
  @IsOptional()
  @IsArray(PROGRAMS)
  @ArrayMaxSize(100, { message: 'holds more than 100 programs.' })
  @IsString({ each: true, ...PROGRAMS })
  programs?: string[];
}

export class ChangeSenderInput {
  @IsOptional()
  @IsIn(REGISTRATIONS, { message: `must be one of: ${REGISTRATIONS.join(', ')}.` })
  registration?: Registration;

  @IsOptional()
  @IsNumber({}, A_PACE)
  @Min(0.1, A_PACE)
  @Max(1_000, A_PACE)
  parts_per_second?: number;

  /** It sends and takes picture messages, as the carrier says. Left out: as it was. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  mms?: boolean;

  /** Null: no cap. */
  @IsOptional()
  @IsInt(A_CAP)
  @Min(1, A_CAP)
  @Max(1_000_000, A_CAP)
  daily_cap?: number | null;

  /** By id or name; left out: as it was. */
  @IsOptional()
  @IsString(A_CARRIER)
  @MaxLength(80, tooLong(80))
  carrier?: string;
}

const A_PORT = { message: 'must be a port from 1 to 65535, such as 2775.' };
const A_PROFILE = {
  message: 'must be an object of settings, such as {"bind": "transmitter and receiver"}; {} for none.',
};

export class CarrierInput {
  @IsString(words('Second carrier'))
  @MaxLength(80, tooLong(80))
  name!: string;

  @IsString(words('smpp.example.org'))
  @MaxLength(253, tooLong(253))
  host!: string;

  @IsInt(A_PORT)
  @Min(1, A_PORT)
  @Max(65_535, A_PORT)
  port!: number;

  /** Who we are to it. */
  @IsString(words('wren'))
  @MaxLength(15, tooLong(15))
  system_id!: string;

  /** Kept, and never shown again. */
  @IsString(words('its password'))
  @MaxLength(32, tooLong(32))
  password!: string;

  /** What it does differently from the standard; left out: nothing. See docs/formats/carrier-profile.md. */
  @IsOptional()
  @IsObject(A_PROFILE)
  profile?: Record<string, unknown>;
}

export class ChangeCarrierInput {
  @IsOptional()
  @IsString(words('Second carrier'))
  @MaxLength(80, tooLong(80))
  name?: string;

  @IsOptional()
  @IsString(words('smpp.example.org'))
  @MaxLength(253, tooLong(253))
  host?: string;

  @IsOptional()
  @IsInt(A_PORT)
  @Min(1, A_PORT)
  @Max(65_535, A_PORT)
  port?: number;

  @IsOptional()
  @IsString(words('wren'))
  @MaxLength(15, tooLong(15))
  system_id?: string;

  /** Left out or empty: as it was. */
  @IsOptional()
  @IsString(words('its password'))
  @MaxLength(32, tooLong(32))
  password?: string;

  /** All that it does differently; left out: as it was. */
  @IsOptional()
  @IsObject(A_PROFILE)
  profile?: Record<string, unknown>;
}

export class ConnectProviderInput {
  /** Where the provider’s interface begins. */
  @IsString(words('https://numbers.example.org/v1'))
  @IsFilled({ message: 'must not be empty: the provider says where its interface is.' })
  @MaxLength(500, tooLong(500))
  url!: string;

  /** What the provider calls the account. */
  @IsString(words('juniper'))
  @IsFilled({ message: 'must not be empty: the provider calls the account so.' })
  @MaxLength(100, tooLong(100))
  account!: string;

  /** By which the provider knows that it is us. */
  @IsString(words('a long secret word'))
  @IsFilled({ message: 'must not be empty: the provider gave one with the account.' })
  @MaxLength(500, tooLong(500))
  token!: string;
}

/** What is looked for among the numbers of the provider; what is left out is any. */
export class SearchNumbersInput {
  @IsOptional()
  @IsIn(KINDS, { message: `must be one of: ${KINDS.join(', ')}.` })
  kind?: SenderKind;

  @IsOptional()
  @IsString(words('719'))
  @MaxLength(10, tooLong(10))
  area?: string;

  @IsOptional()
  @IsString(words('Juniper Gap'))
  @MaxLength(80, tooLong(80))
  town?: string;

  /** Digits that stand in it side by side, or a word as on the keys of a telephone. */
  @IsOptional()
  @IsString(words('STAR'))
  @MaxLength(20, tooLong(20))
  digits?: string;

  /** It sends and takes picture messages. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  pictures?: boolean;

  /** It can be called. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  calls?: boolean;
}

export class OrderNumberInput {
  @IsString(words('+17195550155'))
  @MaxLength(40, tooLong(40))
  number!: string;

  /** The id of the provider; where only one is connected it need not be said. */
  @IsOptional()
  @IsString({ message: 'must be the id of a provider.' })
  @MaxLength(80, tooLong(80))
  provider?: string;

  /** The programs that write from it. */
  @IsOptional()
  @IsArray(PROGRAMS)
  @ArrayMaxSize(100, { message: 'holds more than 100 programs.' })
  @IsString({ each: true, ...PROGRAMS })
  programs?: string[];
}

export class PortInInput extends OrderNumberInput {
  /** The name the number is held by, as the bill says. */
  @IsString(words('Juniper Gap Observatory'))
  @IsFilled(words('Juniper Gap Observatory'))
  @MaxLength(120, tooLong(120))
  holder!: string;

  /** The account at the provider it is with now. */
  @IsString(words('77-1204'))
  @IsFilled(words('77-1204'))
  @MaxLength(60, tooLong(60))
  account!: string;

  /** Its transfer PIN, where there is one. */
  @IsOptional()
  @IsString(words('4471'))
  @MaxLength(20, tooLong(20))
  pin?: string;

  @IsString(words('81201'))
  @IsFilled(words('81201'))
  @MaxLength(12, tooLong(12))
  postal_code!: string;
}

const DAYS_OF_REST = { message: 'must be a whole number of days from 1 to 90.' };

export class RestInput {
  @IsInt(DAYS_OF_REST)
  @Min(1, DAYS_OF_REST)
  @Max(90, DAYS_OF_REST)
  days!: number;

  /** For whoever looks at it later. */
  @IsOptional()
  @IsString(words('refused as spam since Monday'))
  @MaxLength(200, tooLong(200))
  why?: string;
}

import type { Registration, SenderKind } from '@/core/clearance/sender';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from '@/services/kit/validation';
import { tooLong, words } from '@/services/kit/inputs';

const KINDS: SenderKind[] = ['local', 'toll-free', 'short-code'];
const REGISTRATIONS: Registration[] = ['registered', 'in-review', 'question', 'refused', 'none'];
const PROGRAMS = { message: 'must be a list of programs, by id or name.' };
const A_PACE = { message: 'must be a number of parts a second from 0.1 to 1000, as the carrier says.' };
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
}

import { ROLE_WORDS, type Role } from '@/core/access/roles';
import {
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
} from '@/services/kit/validation';
import { IsFilled } from '@/services/kit/checks';
import { tooLong, words } from '@/services/kit/inputs';

const ROLES = Object.keys(ROLE_WORDS) as Role[];
const A_ROLE = { message: `must be one of: ${ROLES.join(', ')}.` };

export class InvitationInput {
  @IsString(words('tess@example.org'))
  @MaxLength(254, tooLong(254))
  email!: string;

  @IsString(words('Tess Nightjar'))
  @IsFilled({ message: 'must not be empty: whom do you invite?' })
  @MaxLength(80, tooLong(80))
  name!: string;

  @IsIn(ROLES, A_ROLE)
  role!: Role;
}

export class RoleInput {
  @IsIn(ROLES, A_ROLE)
  role!: Role;
}

export class LeaveInput {
  /** The account that takes what was theirs; left out: nobody, and whoever ends it takes what must be somebody's. */
  @IsOptional()
  @IsString({ message: 'must be the id of an account.' })
  @MaxLength(60, tooLong(60))
  to?: string;
}

/** What somebody who was invited says of themselves. */
export class AcceptInput {
  @IsString(words('Tess Nightjar'))
  @IsFilled({ message: 'must not be empty: how are you called?' })
  @MaxLength(80, tooLong(80))
  name!: string;

  @IsString({ message: 'must be text.' })
  @MinLength(12, { message: 'must have at least 12 characters: a few words are easy to keep in mind.' })
  @MaxLength(200, tooLong(200))
  password!: string;
}

export class NewWorkspaceInput {
  @IsString(words('Juniper Gap Observatory'))
  @IsFilled({ message: 'must not be empty: people read it in every text.' })
  @MaxLength(60, tooLong(60))
  business!: string;

  /** Where a human answers: a number or an e-mail address. It stands in every answer to HELP. */
  @IsString(words('(719) 555-0110'))
  @IsFilled({ message: 'must not be empty: it stands in every answer to HELP.' })
  @MaxLength(80, tooLong(80))
  contact!: string;

  @Matches(/^[A-Z]{2}$/, { message: 'must be two capital letters, such as US.' })
  country!: string;

  @IsString(words('America/Denver'))
  @MaxLength(60, tooLong(60))
  zone!: string;

  /** Credits that were bought. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of credits.' })
  @Min(0, { message: 'must be at least 0.' })
  @Max(10_000_000, { message: 'must be at most 10000000.' })
  credits?: number;
}

/** The first owner and their business. */
export class MoveInInput extends NewWorkspaceInput {
  @IsString(words('Odile Farrow'))
  @IsFilled({ message: 'must not be empty: how are you called?' })
  @MaxLength(80, tooLong(80))
  name!: string;

  @IsString(words('odile@example.org'))
  @MaxLength(254, tooLong(254))
  email!: string;

  @IsString({ message: 'must be text.' })
  @MinLength(12, { message: 'must have at least 12 characters: a few words are easy to keep in mind.' })
  @MaxLength(200, tooLong(200))
  password!: string;
}

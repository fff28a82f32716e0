import { IsIn, IsOptional, IsString, MaxLength } from '@/services/kit/validation';
import { IsFilled, IsInstant } from '@/services/kit/checks';
import { tooLong } from '@/services/kit/inputs';

export class TaskInput {
  @IsString({ message: 'must be text: what is to be done.' })
  @IsFilled({ message: 'must not be empty: say what is to be done.' })
  @MaxLength(200, tooLong(200))
  title!: string;

  /** The person it is about. */
  @IsOptional()
  @IsString({ message: 'must be the id of a person.' })
  @MaxLength(60, tooLong(60))
  person?: string;

  /** Whose it is; left out: nobody's yet. */
  @IsOptional()
  @IsString({ message: 'must be the id of a teammate.' })
  @MaxLength(60, tooLong(60))
  account?: string;

  @IsInstant()
  due!: string;
}

export class ChangeTaskInput {
  /** `done`: it is done; `later`: due at `due`; `hand-on`: given to `account`; `again`: it is open again. */
  @IsIn(['done', 'later', 'hand-on', 'again'], { message: 'must be one of: done, later, hand-on, again.' })
  verb!: 'done' | 'later' | 'hand-on' | 'again';

  @IsOptional()
  @IsInstant()
  due?: string;

  @IsOptional()
  @IsString({ message: 'must be the id of a teammate.' })
  @MaxLength(60, tooLong(60))
  account?: string;

  @IsOptional()
  @IsString({ message: 'must be text.' })
  @MaxLength(500, tooLong(500))
  note?: string;
}

import { CHANNELS, type Channel } from '@/core/message/channel';
import {
  Matches,
  IsOptional,
  IsString,
  MaxLength,
  IsIn,
  IsArray,
  ArrayMaxSize,
  ValidateNested,
  Type,
  IsBoolean,
  IsInt,
  Max,
  Min,
} from '@/services/kit/validation';
import { tooLong } from '@/services/kit/inputs';
import { TARGET_WORDS } from '@/core/import/columns';
import { OWN_KINDS, type OwnFieldKind } from '@/core/audience/fields';

export class ImportColumnInput {
  @Matches(new RegExp(`^(?:${Object.keys(TARGET_WORDS).join('|')}|own\\.[a-z][a-z0-9_]{0,39})$`), {
    message: 'must be a field, "new" or "skip".',
  })
  to!: string;

  @IsOptional()
  @IsString({ message: 'must be text.' })
  @MaxLength(60, tooLong(60))
  label?: string;

  @IsOptional()
  @IsIn(OWN_KINDS as OwnFieldKind[], { message: `must be one of: ${OWN_KINDS.join(', ')}.` })
  kind?: OwnFieldKind;

  @IsOptional()
  @IsIn(['day-month', 'month-day'], { message: 'must be day-month or month-day.' })
  order?: 'day-month' | 'month-day';
}

export class ImportInput {
  @IsString({ message: 'must be text: the name is how you find it again.' })
  @MaxLength(120, tooLong(120))
  name!: string;

  @IsArray({ message: 'must be a list, one for each column of the file.' })
  @ArrayMaxSize(500, { message: 'holds more than 500 columns.' })
  @ValidateNested({ each: true })
  @Type(() => ImportColumnInput)
  columns!: ImportColumnInput[];

  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  update?: boolean;

  /** Of who is here already only what is empty is filled. Left out: what differs is changed. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  only_empty?: boolean;

  @IsOptional()
  @IsArray({ message: 'must be a list of tags.' })
  @ArrayMaxSize(20, { message: 'holds more than 20 tags.' })
  @IsString({ each: true, message: 'must be a list of tags.' })
  tags?: string[];

  @IsOptional()
  @IsString({ message: 'must be the name of a list.' })
  @MaxLength(60, tooLong(60))
  list?: string;

  @IsOptional()
  @IsString({ message: 'must be the id of a program.' })
  program?: string;

  /** By which channels they agreed. Left out: by text. */
  @IsOptional()
  @IsArray({ message: 'must be a list of channels.' })
  @ArrayMaxSize(CHANNELS.length, { message: 'names a channel twice.' })
  @IsIn(CHANNELS, { each: true, message: `must each be one of ${CHANNELS.join(', ')}.` })
  consent_channels?: Channel[];

  /** What the people agreed to, as it stood on the form. Left out: no consent, nobody becomes textable. */
  @IsOptional()
  @IsString({ message: 'must be text.' })
  @MaxLength(2_000, tooLong(2_000))
  consent_wording?: string;

  /** Everybody in the file left, or wants no texts: they are opted out of everything. Left out: only whom a column says it of. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  left?: boolean;

  @IsOptional()
  @Matches(/^\d{4}-\d{2}-\d{2}$/, { message: 'must be a day, such as 2026-11-24.' })
  consent_date?: string;
}

const A_SHEET = { message: 'must be the place of a sheet, from 0.' };
const A_ROW = { message: 'must be the number of a row, as a spreadsheet counts, or null for none.' };

export class ReadAnewInput {
  /** Left out: as it was. */
  @IsOptional()
  @IsInt(A_SHEET)
  @Min(0, A_SHEET)
  @Max(1_000, A_SHEET)
  sheet?: number;

  /** The row that names the columns; null: there is none. Left out: it is looked for. */
  @IsOptional()
  @IsInt(A_ROW)
  @Min(1, A_ROW)
  @Max(1_000_000, A_ROW)
  header_line?: number | null;
}

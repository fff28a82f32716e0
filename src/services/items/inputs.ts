import { ITEM_KINDS, ITEM_STATES, type ItemKind, type ItemState } from '@/core/item/item';
import { IsBoolean, IsIn, IsOptional, IsString, MaxLength } from '@/services/kit/validation';
import { tooLong, words } from '@/services/kit/inputs';
import { IsFilled, IsInstant } from '@/services/kit/checks';

export class ItemInput {
  /** Its own number: an item that has it already is changed. Left out: the next free one. */
  @IsOptional()
  @IsString(words('E-204'))
  @MaxLength(40, tooLong(40))
  number?: string;

  @IsIn(ITEM_KINDS, { message: `must be one of: ${ITEM_KINDS.join(', ')}.` })
  kind!: ItemKind;

  @IsString(words('Ring night'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(120, tooLong(120))
  name!: string;

  @IsOptional()
  @IsString(words('the dome'))
  @MaxLength(120, tooLong(120))
  place?: string;

  /** As a text says it. */
  @IsOptional()
  @IsString(words('12 USD'))
  @MaxLength(40, tooLong(40))
  price?: string;

  @IsOptional()
  @IsString(words('https://example.org/ring-night'))
  @MaxLength(500, tooLong(500))
  link?: string;

  /** Id of a picture that is kept. */
  @IsOptional()
  @IsString(words('pic_…'))
  @MaxLength(60, tooLong(60))
  picture?: string | null;

  @IsOptional()
  @IsInstant()
  starts_at?: string | null;

  @IsOptional()
  @IsInstant()
  ends_at?: string | null;

  /** No hour is named. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  all_day?: boolean;

  /** Left out: on. */
  @IsOptional()
  @IsIn(ITEM_STATES, { message: `must be one of: ${ITEM_STATES.join(', ')}.` })
  state?: ItemState;
}

export class ImportItemsInput {
  /** A table with a header (CSV), or a calendar (iCalendar, RFC 5545): told apart by what it holds. */
  @IsString(words('number,name,starts'))
  @IsFilled({ message: 'must not be empty.' })
  @MaxLength(2_000_000, tooLong(2_000_000))
  content!: string;
}

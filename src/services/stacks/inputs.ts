import { tooLong, words } from '@/services/kit/inputs';
import { IsFilled } from '@/services/kit/checks';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  Type,
  ValidateNested,
} from '@/services/kit/validation';

/** Messages of one press: as many as a hand presses while a slow line answers. */
export const MOST_AT_ONCE = 50;

/** Who gets a stack: a teammate, or somebody who is invited for this alone. */
export class HolderInput {
  /** A teammate, by id. */
  @IsOptional()
  @IsString({ message: 'must be the id of a teammate.' })
  @MaxLength(60, tooLong(60))
  account?: string;

  /** Somebody who is invited by a link: how they are called. */
  @IsOptional()
  @IsString(words('Iris, volunteer'))
  @MaxLength(80, tooLong(80))
  guest?: string;

  /** Of a guest: for how many hours the link opens. Left out: 24. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of hours.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(720, { message: 'must be at most 720.' })
  hours?: number;

  /** Of a guest: they see numbers too. */
  @IsOptional()
  @IsBoolean({ message: 'must be true or false.' })
  sees_numbers?: boolean;

  /** Where `how` is counts: how many they get. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of people.' })
  @Min(0, { message: 'must be 0 or more.' })
  @Max(100_000, { message: 'must be at most 100000.' })
  count?: number;
}

export class SplitInput {
  /** `evenly`; `counts`: each as many as is said; `areas`: neighbours together; `as-they-come`: each takes the next twenty. */
  @IsIn(['evenly', 'counts', 'areas', 'as-they-come'], {
    message: 'must be one of: evenly, counts, areas, as-they-come.',
  })
  how!: 'evenly' | 'counts' | 'areas' | 'as-they-come';

  @IsArray({ message: 'must be a list of who gets a stack.' })
  @ArrayMinSize(1, { message: 'must name at least one teammate or guest.' })
  @ArrayMaxSize(100, { message: 'holds more than 100.' })
  @ValidateNested({ each: true })
  @Type(() => HolderInput)
  holders!: HolderInput[];
}

/** What is done with a stack as a whole. */
export class StackInput {
  /** `end`: what was not pressed is nobody’s again; `move`: it goes to another stack; `link`: a new link, the old one ends; `take`: where people are taken as they come, the next ones. */
  @IsIn(['end', 'move', 'link', 'take'], { message: 'must be one of: end, move, link, take.' })
  verb!: 'end' | 'move' | 'link' | 'take';

  /** The other stack, by id. */
  @IsOptional()
  @IsString({ message: 'must be the id of a stack.' })
  @MaxLength(60, tooLong(60))
  to?: string;

  /** How many of the last ones are moved; left out: all. */
  @IsOptional()
  @IsInt({ message: 'must be a whole number of people.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(100_000, { message: 'must be at most 100000.' })
  people?: number;
}

export class PressInput {
  /** Messages that were pressed, by id, in order. Pressed twice each goes once. */
  @IsArray({ message: 'must be a list of ids of messages.' })
  @ArrayMaxSize(MOST_AT_ONCE, { message: `holds more than ${MOST_AT_ONCE} messages.` })
  @IsString({ each: true, message: 'must be a list of ids of messages.' })
  @MaxLength(60, { each: true, ...tooLong(60) })
  messages!: string[];
}

export class AdaptInput {
  @IsString({ message: 'must be the id of a message.' })
  @MaxLength(60, tooLong(60))
  message!: string;

  /** The words in place of those that were written for them. */
  @IsString(words('Hi Ana, shall we save you a chair on Friday?'))
  @MaxLength(2_000, tooLong(2_000))
  body!: string;
}

export class SkipInput {
  @IsString({ message: 'must be the id of a message.' })
  @MaxLength(60, tooLong(60))
  message!: string;

  @IsString(words('knows them, calls instead'))
  @IsFilled({ message: 'must say why.' })
  @MaxLength(200, tooLong(200))
  why!: string;
}

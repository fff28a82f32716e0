import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsObject,
  IsOptional,
  IsString,
  MaxLength,
} from '@/services/kit/validation';
import { IsStamp, IsInstant } from '@/services/kit/checks';
import { tooLong } from '@/services/kit/inputs';
import { PACES } from './paces';

const AN_OBJECT = { message: 'must be a sequence as a JSON object: see docs/formats/sequence.md.' };

/** A new sequence, from a document; left out: an empty one by this name. */
export class NewSequenceInput {
  @IsOptional()
  @IsString({ message: 'must be text, such as "Welcome after a keyword".' })
  @MaxLength(80, tooLong(80))
  name?: string;

  @IsOptional()
  @IsString({ message: 'must be the name or id of a program.' })
  @MaxLength(80, tooLong(80))
  program?: string;

  @IsOptional()
  @IsObject(AN_OBJECT)
  document?: object;
}

export class DraftInput {
  @IsObject(AN_OBJECT)
  document!: object;

  /** The `draft_stamp` that was read: when somebody saved since, nothing is overwritten. */
  @IsStamp('must be the draft_stamp that was read.')
  stamp!: number;
}

export class PublishInput {
  /** Whether people on the way stay on their version, or move to the new one. */
  @IsIn(['stay', 'move'], { message: 'must be one of: stay, move.' })
  others!: 'stay' | 'move';

  @IsStamp('must be the draft_stamp that was read.')
  stamp!: number;
}

export class EnrolInput {
  @IsArray({ message: 'must be a list of ids of people.' })
  @ArrayMaxSize(10_000, { message: 'holds more than 10000 people. Send them in parts, or as a batch.' })
  @IsString({ each: true, message: 'must be a list of ids of people.' })
  people!: string[];

  /** The id of a line to put them in at; left out: the first. */
  @IsOptional()
  @IsString({ message: 'must be the id of a line.' })
  @MaxLength(60, tooLong(60))
  line?: string;
}

export class HoldInput {
  /** Nothing before this instant; left out: go on. */
  @IsOptional()
  @IsInstant()
  until?: string;
}

export class TrialInput {
  /** The account of the teammate who tries it on themselves; their number must be proved. */
  @IsString({ message: 'must be the id of an account.' })
  @MaxLength(60, tooLong(60))
  teammate!: string;

  /** How long a day takes. */
  @IsIn([...PACES], { message: `must be one of: ${PACES.join(', ')}.` })
  seconds_a_day!: number;
}

export class PlaceInput {
  @IsString({ message: 'must be the id of a line.' })
  @MaxLength(60, tooLong(60))
  line!: string;
}

export class RehearsalInput {
  /** The id of a sequence: its draft, or what runs where there is none. */
  @IsOptional()
  @IsString({ message: 'must be the id of a sequence.' })
  @MaxLength(60, tooLong(60))
  sequence?: string;

  @IsOptional()
  @IsObject(AN_OBJECT)
  document?: object;

  /** The id of a person; left out: a made-up one. */
  @IsOptional()
  @IsString({ message: 'must be the id of a person.' })
  @MaxLength(60, tooLong(60))
  person?: string;

  /** Left out: now. */
  @IsOptional()
  @IsInstant()
  from?: string;

  /** Begun by an act of the person: the first line is an answer. */
  @IsOptional()
  @IsIn([true, false], { message: 'must be true or false.' })
  prompted?: boolean;

  /** What is pretended: `{"at": instant, "kind": "reply" | "click" | "redeem" | "opt-out" | "moves", "zone"?}`. */
  @IsOptional()
  @IsArray({ message: 'must be a list of events.' })
  @ArrayMaxSize(50, { message: 'holds more than 50 events. Leave some out.' })
  @IsObject({ each: true, message: 'must be a list of events, each {"at": instant, "kind": "reply"}.' })
  events?: { at?: unknown; kind?: unknown; zone?: unknown }[];
}

/** Something that happened to a person. Sequences, tasks, notices and webhooks follow from happenings. */
export type HappeningKind =
  | 'person.added'
  | 'person.changed'
  | 'person.merged'
  | 'person.imported'
  | 'program.joined'
  | 'program.left'
  | 'keyword.heard'
  | 'form.filled'
  | 'inquiry.received'
  | 'tag.put'
  | 'tag.taken'
  | 'list.put'
  | 'list.taken'
  | 'stage.changed'
  | 'owner.changed'
  | 'reply.received'
  | 'link.clicked'
  | 'voucher.given'
  | 'voucher.expiring'
  | 'voucher.expired'
  | 'voucher.redeemed'
  | 'sequence.began'
  | 'sequence.ended'
  | 'sequence.told'
  | 'message.delivered'
  | 'message.failed'
  | 'date.reached';

/** What a happening is about beside the person: what `subject` is the id of. */
export type Subject =
  | 'program'
  | 'keyword'
  | 'form'
  | 'source'
  | 'offer'
  | 'label'
  | 'stage'
  | 'account'
  | 'person'
  | 'import'
  | 'inbound'
  | 'message'
  | 'field'
  | 'sequence';

interface Kind {
  /** As it is said of a person: "Ana joined a program". */
  words: string;
  /** Null: nothing but the person. */
  subject: Subject | null;
}

export const HAPPENINGS: Record<HappeningKind, Kind> = {
  'person.added': { words: 'was added', subject: null },
  'person.changed': { words: 'a field changed', subject: null },
  'person.merged': { words: 'was merged with another record', subject: 'person' },
  'person.imported': { words: 'stood in an import', subject: 'import' },
  'program.joined': { words: 'joined a program', subject: 'program' },
  'program.left': { words: 'left a program', subject: 'program' },
  'keyword.heard': { words: 'joined by a keyword, or texted it again', subject: 'keyword' },
  'inquiry.received': { words: 'inquired', subject: 'source' },
  'form.filled': { words: 'filled in a form', subject: 'form' },
  'tag.put': { words: 'was tagged', subject: 'label' },
  'tag.taken': { words: 'lost a tag', subject: 'label' },
  'list.put': { words: 'came on a list', subject: 'label' },
  'list.taken': { words: 'was taken off a list', subject: 'label' },
  'stage.changed': { words: 'reached another stage', subject: 'stage' },
  'owner.changed': { words: 'got another owner', subject: 'account' },
  'reply.received': { words: 'wrote', subject: 'inbound' },
  'link.clicked': { words: 'followed a link', subject: 'message' },
  'voucher.given': { words: 'got a voucher', subject: 'offer' },
  'voucher.expiring': { words: 'has a voucher that ends soon', subject: 'offer' },
  'voucher.expired': { words: 'let a voucher end', subject: 'offer' },
  'voucher.redeemed': { words: 'used a voucher', subject: 'message' },
  'sequence.began': { words: 'came into a sequence', subject: 'sequence' },
  'sequence.ended': { words: 'came out of a sequence', subject: 'sequence' },
  'sequence.told': { words: 'came to a line of a sequence that tells other systems', subject: 'sequence' },
  'message.delivered': { words: 'a message reached them', subject: 'message' },
  'message.failed': { words: 'a message failed', subject: 'message' },
  'date.reached': { words: 'a date of theirs came', subject: 'field' },
};

export const HAPPENING_KINDS = Object.keys(HAPPENINGS) as HappeningKind[];

export interface Happening {
  /** Rises in the order in which it happened to a person. */
  seq: number;
  kind: HappeningKind;
  personId: string;
  subject: string | null;
  detail: Record<string, unknown>;
  /** When it happened. */
  at: Date;
}

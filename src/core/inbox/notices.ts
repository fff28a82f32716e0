/** What teammates are told of. */
export type NoticeKind =
  | 'reply.received'
  | 'owner.changed'
  | 'sequence.told'
  | 'inquiry.received'
  | 'thread.given'
  | 'thread.back'
  | 'note.called';

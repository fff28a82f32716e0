/** What teammates are told of. */
export type NoticeKind =
  | 'reply.received'
  | 'owner.changed'
  | 'sequence.told'
  | 'inquiry.received'
  | 'thread.given'
  | 'thread.back'
  | 'note.called';

/** What is told of a thread, in words that follow the name of who it is with. */
export const THREAD_NOTICE_WORDS = {
  'thread.given': 'their thread was given to you',
  'thread.back': 'is back: you had put the thread off',
  'note.called': 'a note calls you',
} as const satisfies Partial<Record<NoticeKind, string>>;

export type ThreadNoticeKind = keyof typeof THREAD_NOTICE_WORDS;

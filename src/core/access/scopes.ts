import type { Permission } from './roles';

/** What an API key may do, in the words of who makes one. A key without a list may do everything. */
export const SCOPE_WORDS: Record<Scope, string> = {
  read: 'read everything',
  answer: 'answer people, opt them out, pause them',
  send: 'write, schedule and stop broadcasts',
  'edit-people': 'add and change people, tasks and segments',
  'edit-programs': 'change programs, keywords, forms, offers and sequences',
  redeem: 'look at vouchers and redeem them',
  'manage-keys': 'change numbers, carriers, settings and webhooks',
  'manage-team': 'change the team',
};

export type Scope = Permission;

export const SCOPES = Object.keys(SCOPE_WORDS) as Scope[];

export const isScope = (word: string): word is Scope => word in SCOPE_WORDS;

/** What changing things takes, by the first part of the path. */
const CHANGES: Record<string, Scope> = {
  ...{ batches: 'edit-people', people: 'edit-people', segments: 'edit-people', tasks: 'edit-people' },
  ...{ enrolments: 'edit-people', stages: 'edit-people', fields: 'edit-people', imports: 'edit-people' },
  ...{ broadcasts: 'send', sends: 'send', items: 'send', files: 'send', templates: 'send', shares: 'send' },
  ...{
    programs: 'edit-programs',
    keywords: 'edit-programs',
    forms: 'edit-programs',
    sources: 'edit-programs',
    arrivals: 'edit-programs',
    posters: 'edit-programs',
  },
  ...{
    offers: 'edit-programs',
    sequences: 'edit-programs',
    trials: 'edit-programs',
    submissions: 'edit-programs',
  },
  ...{ 'chat-accounts': 'manage-keys', 'chat-templates': 'send', 'chat-wordings': 'send' },
  ...{ 'voice-messages': 'send', 'voicemail-accounts': 'manage-keys', switchboards: 'manage-keys' },
  ...{ calls: 'answer', 'call-outcomes': 'edit-programs', phones: 'manage-keys' },
  ...{ vouchers: 'redeem', 'link-targets': 'send' },
  ...{
    carriers: 'manage-keys',
    'sender-numbers': 'manage-keys',
    webhooks: 'manage-keys',
    mail: 'manage-keys',
  },
  ...{ registrars: 'manage-keys', brand: 'manage-keys', 'number-providers': 'manage-keys' },
  ...{ 'number-orders': 'manage-keys', 'number-ports': 'manage-keys' },
  ...{
    credits: 'read',
    'credit-entries': 'send',
    'credit-prices': 'manage-keys',
    'credit-limits': 'manage-keys',
  },
  ...{ 'credit-packs': 'manage-keys', 'credit-orders': 'manage-keys' },
  ...{ registrations: 'edit-programs', 'registration-questions': 'edit-programs' },
  ...{ workspace: 'manage-keys', rules: 'manage-keys' },
  results: 'read',
  ...{ reports: 'send', proofs: 'answer' },
  ...{ stacks: 'send', answers: 'answer', replies: 'manage-team' },
  ...{ team: 'manage-team', invitations: 'manage-team' },
};

/** Questions that are asked with a body, and change nothing. */
const QUESTIONS: readonly RegExp[] = [
  /^\/texts\//,
  /^\/clearance\/check$/,
  /^\/people\/count$/,
  /^\/calls-to-action\/reading$/,
  /^\/number-searches$/,
  /^\/credit-entries\/check$/,
  /^\/broadcasts\/\{id\}\/(?:clearance|people)$/,
  /^\/sequences\/(?:rehearsals|\{id\}\/(?:forecast|difference))$/,
];

/** The scope a request needs. Null: the path is nowhere in the table, which a test forbids. */
export function scopeFor(method: string, path: string): Scope | null {
  if (method === 'GET' || QUESTIONS.some((question) => question.test(path))) return 'read';
  if (/^\/people\/\{id\}\/(?:leave|pause|answers|thread|notes)(?:\/|$)/.test(path)) return 'answer';
  return CHANGES[path.split('/')[1] ?? ''] ?? null;
}

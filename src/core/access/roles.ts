/** What somebody may do in a workspace. Counter helpers only redeem vouchers. */
export type Role = 'owner' | 'manager' | 'teammate' | 'counter';

export type Permission =
  | 'read'
  | 'answer'
  | 'send'
  | 'edit-programs'
  | 'edit-people'
  | 'manage-keys'
  | 'manage-team'
  | 'redeem';

const GRANTS: Record<Role, readonly Permission[]> = {
  owner: ['read', 'answer', 'send', 'edit-programs', 'edit-people', 'manage-keys', 'manage-team', 'redeem'],
  manager: ['read', 'answer', 'send', 'edit-programs', 'edit-people', 'manage-keys', 'redeem'],
  teammate: ['read', 'answer', 'edit-people', 'redeem'],
  counter: ['redeem'],
};

export const may = (role: Role, permission: Permission): boolean => GRANTS[role].includes(permission);

export const ROLE_WORDS: Record<Role, { word: string; means: string }> = {
  owner: { word: 'owner', means: 'everything, the team included' },
  manager: { word: 'manager', means: 'programs, broadcasts, people, keys' },
  teammate: { word: 'teammate', means: 'reads, answers and edits people' },
  counter: { word: 'counter', means: 'redeems vouchers, sees nothing else' },
};

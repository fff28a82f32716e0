import { describe, expect, it } from 'vitest';
import { may, ROLE_WORDS, type Permission, type Role } from './roles';

describe('roles', () => {
  const all: Permission[] = [
    'read',
    'answer',
    'send',
    'edit-programs',
    'edit-people',
    'manage-keys',
    'manage-team',
  ];
  it.each([
    ['owner', all],
    ['manager', all.filter((one) => one !== 'manage-team')],
    ['teammate', ['read', 'answer', 'edit-people']],
    ['counter', []],
  ] as [Role, Permission[]][])('%s may do just this', (role, allowed) => {
    expect(all.filter((permission) => may(role, permission))).toEqual(allowed);
    expect(ROLE_WORDS[role].word).toBe(role);
  });
});

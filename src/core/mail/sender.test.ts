import { describe, expect, it } from 'vitest';
import { readDomains, unproved } from './sender';

describe('domains whose letters count', () => {
  it('are read as they are typed: an address stands for its domain, each counts once', () => {
    expect(readDomains([' Portal.Example.org. ', 'desk@portal.example.org', '', 'mail.example.com'])).toEqual(
      {
        ...{ ok: true, value: ['portal.example.org', 'mail.example.com'] },
      },
    );
  });

  it.each(['portal', 'https://portal.example.org', 'a b.example.org', '-a.example.org', '127.0.0.1'])(
    'are never %s',
    (typed) => {
      const read = readDomains([typed]);
      expect(read).toMatchObject({ ok: false, reason: expect.stringContaining('is no domain') });
    },
  );
});

describe('a letter counts', () => {
  it('whoever it comes from, where nobody is demanded', () => {
    expect(unproved([], [])).toBeNull();
  });

  it('from a domain that is demanded, and what lies below it', () => {
    expect(unproved(['portal.example.org'], ['portal.example.org'])).toBeNull();
    expect(unproved(['mx.portal.example.org'], ['example.com', 'portal.example.org'])).toBeNull();
  });

  it('not from what only ends alike, or lies above', () => {
    expect(unproved(['evilportal.example.org'], ['portal.example.org'])).toBe(
      'it comes from evilportal.example.org, not from portal.example.org',
    );
    expect(unproved(['example.org'], ['portal.example.org'])).not.toBeNull();
    expect(unproved([], ['portal.example.org'])).toBe('nothing proves that it comes from portal.example.org');
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { currentAddress, parseEmail, type AddressConsent } from './address';

describe('e-mail addresses', () => {
  it.each([
    ['ana@example.org', 'ana@example.org'],
    [' Ana.Ortiz+sky@Example.ORG ', 'ana.ortiz+sky@example.org'],
    ['mailto:ana@example.org', 'ana@example.org'],
    ['łucja@exämple.org', 'łucja@exämple.org'],
    ["o'hara@sub.example.co", "o'hara@sub.example.co"],
  ])('%s is kept as %s', (text, kept) => expect(parseEmail(text)).toEqual({ ok: true, value: kept }));

  it.each([
    ...['', 'ana', 'ana@', '@example.org', 'ana@example', 'ana@exa mple.org', 'a@b@example.org'],
    ...['ana@[10.0.0.1]', 'ana@10.0.0.1', '"a b"@example.org', '.ana@example.org', 'a..b@example.org'],
    ...['ana@-example.org', 'ana@example..org', `${'a'.repeat(65)}@example.org`, 'Ana <ana@example.org>'],
    ...['ana@example.org\nBcc: all@example.org', 'ana@example.org,bo@example.org'],
  ])('%s is none', (text) => expect(parseEmail(text)).toEqual({ ok: false, reason: 'no-email' }));
});

const consent = (
  address: string,
  state: AddressConsent['state'],
  since: number,
  rank: number | null,
): AddressConsent => ({ address, state, since, rank });

describe('of several addresses', () => {
  it.each<[string, AddressConsent[], string]>([
    ['the only one', [consent('a', 'lapsed', 1, 0)], 'a'],
    ['the preferred one, where both agreed', [consent('a', 'in', 1, 1), consent('b', 'in', 2, 0)], 'b'],
    ['the one that agreed', [consent('a', 'lapsed', 9, 0), consent('b', 'in', 2, 1)], 'b'],
    ['the one that left last', [consent('a', 'in', 1, 0), consent('b', 'out', 2, 1)], 'b'],
    ['the one that agreed since', [consent('a', 'out', 1, 0), consent('b', 'in', 2, 1)], 'b'],
    ['none that agreed before they left', [consent('a', 'out', 2, 0), consent('b', 'in', 1, 1)], 'a'],
    [
      'an opt-out by one that was taken away since',
      [consent('a', 'out', 2, null), consent('b', 'in', 1, 0)],
      'a',
    ],
    [
      'whoever agreed after an opt-out by one that was taken away',
      [consent('a', 'out', 2, null), consent('b', 'in', 3, 0)],
      'b',
    ],
    ['none that is theirs no more', [consent('a', 'in', 1, null), consent('b', 'lapsed', 2, 0)], 'b'],
  ])('%s speaks', (_, consents, speaks) => expect(currentAddress(consents)?.address).toBe(speaks));

  const some = fc.uniqueArray(
    fc.record({
      address: fc.constantFrom('a', 'b', 'c', 'd'),
      state: fc.constantFrom('asked', 'in', 'out', 'lapsed'),
      since: fc.integer({ min: 0, max: 5 }),
      rank: fc.option(fc.integer({ min: 0, max: 3 })),
    }),
    { minLength: 1, selector: ({ address }) => address },
  ) as fc.Arbitrary<AddressConsent[]>;

  it('agreement never wins over a later opt-out, and the order they stand in changes nothing', () => {
    fc.assert(
      fc.property(some, (consents) => {
        const spoken = currentAddress(consents)!;
        expect(currentAddress([...consents].reverse())!.address).toBe(spoken.address);
        if (spoken.state === 'in')
          for (const { state, since } of consents)
            if (state === 'out') expect(since).toBeLessThan(spoken.since!);
      }),
    );
  });
});

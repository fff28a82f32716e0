import { createHmac } from 'node:crypto';
import { Webhook } from 'standardwebhooks';
import { describe, expect, it } from 'vitest';
import { signatureProblem } from './signature';

const AT = Date.parse('2026-11-24T17:00:00Z');
const SECRET = `whsec_${Buffer.from('a secret of thirty-two bytes ....').toString('base64')}`;
const BODY = Buffer.from('{"name":"Ána"}');
const source = { signs: 'standard' as const, signHeader: null, secrets: ['whsec_b2xk', SECRET] };
/** Signed by the specification's own library. */
const signed = (at = AT, body = BODY, secret = SECRET) => ({
  'webhook-id': 'msg_1',
  'webhook-timestamp': String(Math.floor(at / 1000)),
  'webhook-signature': new Webhook(secret).sign('msg_1', new Date(at), body.toString()),
});

describe('a signature', () => {
  it.each([
    ['right', signed(), null],
    [
      'right, beside another',
      { ...signed(), 'webhook-signature': `v1,xxx ${signed()['webhook-signature']}` },
      null,
    ],
    ['missing', {}, 'missing'],
    ['of other bytes', signed(AT, Buffer.from('{"name":"Ana"}')), 'wrong'],
    ['of another secret', signed(AT, BODY, 'whsec_b3RoZXI='), 'wrong'],
    ['of another time than it says', { ...signed(), 'webhook-timestamp': '1' }, 'wrong'],
    ['with a time that is none', { ...signed(), 'webhook-timestamp': '1e9' }, 'wrong'],
    ['of an hour ago', signed(AT - 3_600_000), 'old'],
    ['of tomorrow', signed(AT + 86_400_000), 'old'],
  ])('that is %s', (_, headers, problem) => {
    expect(signatureProblem(source, { headers, body: BODY, at: AT })).toBe(problem);
  });

  it('in a header of the sender’s own is read in the ways that are usual', () => {
    const mac = createHmac('sha256', 'plain words').update(BODY);
    const digest = mac.digest();
    const own = { signs: 'header' as const, signHeader: 'X-Portal-Signature', secrets: ['plain words'] };
    const problem = (value: string | undefined) =>
      signatureProblem(own, { headers: { 'x-portal-signature': value }, body: BODY, at: AT });
    expect(problem(digest.toString('hex'))).toBeNull();
    expect(problem(`sha256=${digest.toString('hex').toUpperCase()}`)).toBeNull();
    expect(problem(digest.toString('base64'))).toBeNull();
    expect([problem(undefined), problem('00')]).toEqual(['missing', 'wrong']);
  });

  it('is not asked for where the source takes everything', () => {
    const open = { signs: 'nothing' as const, signHeader: null, secrets: [] };
    expect(signatureProblem(open, { headers: {}, body: BODY, at: AT })).toBeNull();
  });
});

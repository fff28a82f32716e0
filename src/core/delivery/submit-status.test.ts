import { describe, expect, it } from 'vitest';
import { failureOfStatus } from './submit-status';

describe('answers to a submit', () => {
  it.each([
    [0x00, null],
    [0x58, 'throttled'],
    [0x14, 'carrier-busy'],
    [0x08, 'carrier-error'],
    [0x45, 'carrier-error'],
    [0x0b, 'number-unknown'],
    [0x0a, 'sender-refused'],
    [0x99, 'refused'],
  ])('status 0x%s means %s', (status, reason) => expect(failureOfStatus(status)).toBe(reason));
});

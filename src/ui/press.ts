import { useMemo } from 'react';

/** A token no other press has. Works where the page is not served securely too. */
const newPress = (): string =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, '0')).join('');

export interface Press {
  /** The token to send: the same until it is settled, however often the button is hit. */
  token(): string;
  /** An answer came: the next press is another one. */
  settle(): void;
}

/** What makes a button that makes or sends something count once: the server knows its token. */
export const usePress = (): Press =>
  useMemo(() => {
    let token: string | null = null;
    return { token: () => (token ??= newPress()), settle: () => void (token = null) };
  }, []);

import { useState } from 'react';

/** A token no other press has. Works where the page is not served securely too. */
const newPress = (): string =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, '0')).join('');

/** What makes a button that makes or sends something count once: the server knows its token. */
export class Press {
  #token: string | null = null;

  /** The token to send: the same until it is settled, however often the button is hit. */
  token(): string {
    return (this.#token ??= newPress());
  }

  /** An answer came: the next press is another one. */
  settle(): void {
    this.#token = null;
  }
}

export const usePress = (): Press => useState(() => new Press())[0];

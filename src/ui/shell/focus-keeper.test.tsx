import { act, render, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import { place } from '@/ui/testing/router';
import { FocusKeeper } from './focus-keeper';

/** A block whose button is gone once it was pressed. */
function Desk({ rest }: { rest: boolean }) {
  const [done, setDone] = useState(false);
  return (
    <main id="main">
      <FocusKeeper />
      <h1>Inbox</h1>
      <section>
        {!done && <button onClick={() => setDone(true)}>Pause</button>}
        {rest && <button>Stop</button>}
      </section>
    </main>
  );
}

const press = (name: string) => {
  const button = screen.getByRole('button', { name });
  button.focus();
  act(() => button.click());
};

describe('focus', () => {
  it('goes to the next thing to do where the pressed button is gone', async () => {
    render(<Desk rest />);
    press('Pause');
    await waitFor(() => expect(document.activeElement?.textContent).toBe('Stop'));
  });

  it('goes to the heading where nothing is left to do', async () => {
    render(<Desk rest={false} />);
    press('Pause');
    await waitFor(() => expect(document.activeElement?.textContent).toBe('Inbox'));
  });

  it('comes back to a button that was out of use while it worked, unless it went elsewhere meanwhile', async () => {
    render(<Desk rest />);
    const pause = screen.getByText<HTMLButtonElement>('Pause');
    const stop = screen.getByText('Stop');
    /** As browsers do: what goes out of use loses the focus. */
    const works = async (meanwhile: () => void) => {
      pause.focus();
      pause.disabled = true;
      pause.blur();
      await Promise.resolve();
      meanwhile();
      pause.disabled = false;
      await Promise.resolve();
    };
    await works(() => {});
    expect(document.activeElement).toBe(pause);
    await works(() => stop.focus());
    expect(document.activeElement).toBe(stop);
  });

  it('begins a new page at its heading, and leaves the first one alone', async () => {
    const { rerender } = render(<Desk rest />);
    expect(document.activeElement).toBe(document.body);
    place.path = '/sends';
    rerender(<Desk rest />);
    await waitFor(() => expect(document.activeElement?.textContent).toBe('Inbox'));
  });
});

import type { ReactNode } from 'react';

interface Props {
  /** Kinds of file, as an input's `accept`. */
  accept: string;
  onFile(file: File): void;
  /** How the label looks; a button unless said. */
  look?: 'button' | 'main' | 'link';
  children: ReactNode;
}

const LOOKS = { button: 'button', main: 'button button-main', link: 'link' };

/** A label that opens a file. The same file may be chosen again: it may have been mended since. */
export function FilePicker({ accept, onFile, look = 'button', children }: Props) {
  return (
    <label
      className={`${LOOKS[look]} cursor-pointer focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-accent`}
    >
      {children}
      <input
        type="file"
        accept={accept}
        className="sr-only"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onFile(file);
          event.target.value = '';
        }}
      />
    </label>
  );
}

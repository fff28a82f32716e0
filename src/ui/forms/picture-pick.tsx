'use client';
import { useState } from 'react';
import { FilePicker } from '@/ui/kit/file-picker';
import { Problem } from '@/ui/kit/problem';

export interface PictureChoice {
  id: string;
  name: string;
}

interface Props {
  pictures: PictureChoice[];
  chosen: string | null;
  choose(id: string | null): void;
  label?: string;
}

/** The business's picture: one that is there, or a file. */
export function PicturePick({ pictures, chosen, choose, label = 'Picture above the title' }: Props) {
  const [more, setMore] = useState<PictureChoice[]>([]);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const all = [...more, ...pictures];
  const keep = async (file: File) => {
    setBusy(true);
    const headers = { 'x-file-name': encodeURIComponent(file.name) };
    const answer = await fetch('/internal/files', { method: 'POST', body: file, headers }).catch(() => null);
    const said = (await answer?.json().catch(() => null)) as (PictureChoice & { message?: string }) | null;
    setBusy(false);
    if (!answer?.ok || !said) {
      setProblem(said?.message ?? 'It did not arrive. Try again.');
      return;
    }
    setProblem(null);
    setMore((before) => [{ id: said.id, name: said.name }, ...before]);
    choose(said.id);
  };
  return (
    <div className="mb-3">
      <label className="block">
        <span className="mb-1 block text-sm text-soft">{label}</span>
        <select
          className="input"
          value={chosen ?? ''}
          onChange={(event) => choose(event.target.value || null)}
        >
          <option value="">none</option>
          {all.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <p className="mt-1">
        <FilePicker
          look="link"
          accept="image/jpeg,image/png,image/webp,image/gif"
          onFile={(file) => void keep(file)}
        >
          {busy ? 'Working …' : 'Another from a file'}
        </FilePicker>
      </p>
      <Problem>{problem}</Problem>
    </div>
  );
}

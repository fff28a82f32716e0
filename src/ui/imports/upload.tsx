'use client';
import { Problem } from '@/ui/kit/problem';
import { TABLE_FILES } from '@/core/import/file-format';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Progress } from '@/ui/kit/progress';
import { FilePicker } from '@/ui/kit/file-picker';

/** What the server answers; somebody between us and it may answer a page instead. */
function answerOf(text: string): { id?: string; message?: string } {
  try {
    return JSON.parse(text) as { id?: string; message?: string };
  } catch {
    return {};
  }
}

/** A file dropped, chosen or pasted goes up at once; what it holds is looked at on the next page. */
export function Upload() {
  const router = useRouter();
  const [sent, setSent] = useState<{ done: number; of: number } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [over, setOver] = useState(false);
  const [pasted, setPasted] = useState('');
  const send = (name: string, data: Blob) => {
    setProblem(null);
    setSent({ done: 0, of: data.size });
    // fetch tells nothing of how far an upload is.
    const request = new XMLHttpRequest();
    request.open('POST', '/people/imports/upload');
    request.setRequestHeader('x-file-name', encodeURIComponent(name));
    request.upload.onprogress = (event) => setSent({ done: event.loaded, of: event.total });
    const fail = (words: string) => {
      setSent(null);
      setProblem(words);
    };
    request.onerror = () => fail('The upload broke off. Nothing was kept; try again.');
    request.onload = () => {
      const answer = answerOf(request.responseText);
      if (answer.id) router.push(`/people/imports/${answer.id}`);
      else fail(answer.message ?? 'The file could not be taken. Try again.');
    };
    request.setRequestHeader('x-file-size', String(data.size));
    request.send(data);
  };
  if (sent)
    return (
      <Progress
        value={Math.round(sent.done / 1024)}
        of={Math.max(1, Math.round(sent.of / 1024))}
        label="kB sent"
      />
    );
  return (
    <div className="mb-8 grid gap-6 sm:grid-cols-2">
      <div
        className={`flex flex-col items-start gap-3 border border-dashed p-4 ${over ? 'border-accent bg-paper-2' : 'border-soft'}`}
        onDragOver={(event) => (event.preventDefault(), setOver(true))}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          const file = event.dataTransfer.files[0];
          if (file) send(file.name, file);
        }}
      >
        <p>Drop a file here: CSV, a spreadsheet (XLSX, ODS, XLS) or vCard, up to 100 MB.</p>
        <FilePicker
          look="main"
          accept={`${TABLE_FILES},.vcf,text/vcard`}
          onFile={(file) => send(file.name, file)}
        >
          Choose a file
        </FilePicker>
        <Problem wide>{problem}</Problem>
      </div>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (pasted.trim()) send('pasted rows', new Blob([pasted]));
          else setProblem('Paste some rows first.');
        }}
      >
        <label className="block text-sm text-soft">
          Or paste rows from a spreadsheet
          <textarea
            className="input mt-1 h-24 font-mono text-ink"
            value={pasted}
            onChange={(event) => setPasted(event.target.value)}
          />
        </label>
        <button className="button mt-2">Read these rows</button>
      </form>
    </div>
  );
}

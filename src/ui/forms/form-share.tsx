import encodeQR from 'qr';
import { Section } from '@/ui/kit/page';
import { QrPicture } from '@/ui/kit/qr-picture';

interface Props {
  address: string;
  title: string;
}

/** By link, by QR, in a page of one's own. */
export function FormShare({ address, title }: Props) {
  const base = address.replace(/\/f\/[^/]+$/, '');
  const code = address.split('/').at(-1)!;
  const name = title.replace(/[<>"&]/g, '');
  return (
    <Section title="Shared">
      <p className="mb-2">
        <a className="link break-all" href={address} target="_blank" rel="noopener">
          {address}
        </a>
      </p>
      <QrPicture
        rows={encodeQR(address, 'raw', { ecc: 'medium', border: 4 })}
        label={`QR code of ${address}`}
      />
      <Snippet
        title="In a page, as high as it is"
        text={`<script src="${base}/f/embed.js" data-form="${code}" data-title="${name}" async></script>`}
      />
      <Snippet
        title="Where scripts are not wanted"
        text={`<iframe src="${address}" title="${name}" width="100%" height="760" style="border:0"></iframe>`}
      />
    </Section>
  );
}

function Snippet({ title, text }: { title: string; text: string }) {
  return (
    <label className="mt-2 block">
      <span className="text-sm text-soft">{title}</span>
      <textarea className="input font-mono text-xs" readOnly rows={3} value={text} />
    </label>
  );
}

import type { FormDocument } from '@/core/form/document';
import { formPage } from '@/core/form/page';
import { shownFields } from '@/core/form/read';
import type { OwnField } from '@/core/people/values';

interface Props {
  document: FormDocument;
  own: OwnField[];
  business: string;
  wording: string;
  termsUrl: string | null;
  privacyUrl: string | null;
}

/** The page of a form by the very code that makes it, in a frame in which nothing runs and nothing is sent. */
export function FormPreview({ document, own, business, wording, termsUrl, privacyUrl }: Props) {
  const html = formPage({
    ...{ document, business, wording, termsUrl, privacyUrl, typed: {}, problems: {} },
    fields: shownFields(document.fields, own),
    picture: document.look.picture ? `/m/${document.look.picture}` : null,
    ...{ script: null, press: '', drawnAt: null },
  });
  return (
    <iframe
      title="The form as it will be seen"
      sandbox=""
      srcDoc={html}
      className="h-[42rem] w-[360px] max-w-full border border-rule"
    />
  );
}

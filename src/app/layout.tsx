import type { Metadata } from 'next';
import { cookies } from 'next/headers';
import { Toaster } from 'sonner';
import './globals.css';

export const metadata: Metadata = {
  title: { default: 'Steady Wren', template: '%s · Steady Wren' },
  description: 'A workbench for people who text with permission',
};

export default async function RootLayout({ children }: { children: React.ReactNode }) {
  const theme = (await cookies()).get('wren_theme')?.value;
  return (
    <html lang="en" data-theme={theme === 'dark' || theme === 'light' ? theme : undefined}>
      <body>
        <a
          href="#main"
          className="sr-only focus:not-sr-only focus:absolute focus:left-2 focus:top-2 focus:bg-paper focus:p-2"
        >
          Skip to the page
        </a>
        {children}
        <Toaster
          position="bottom-left"
          toastOptions={{ unstyled: true, classNames: { toast: 'bg-ink text-paper px-4 py-2 rounded-sm' } }}
        />
      </body>
    </html>
  );
}

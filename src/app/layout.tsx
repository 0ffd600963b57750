import type { Metadata } from 'next';
import { headers } from 'next/headers';
import { Suspense, type ReactNode } from 'react';
import { Live } from '@/ui/data/live';
import { CommandLine } from '@/ui/frame/command-line';
import { OutgoingPapers } from '@/ui/media/outgoing-papers';
import { Notices } from '@/ui/frame/notices';
import { StationBar } from '@/ui/stations/station-bar';
import { Sidebar } from '@/ui/frame/sidebar';
import { PrefetchBoundary } from './prefetch-boundary';
import './globals.css';
import Script from 'next/script';
import { language, say } from '@/messages';

export const dynamic = 'force-dynamic';

export const metadata: Metadata = {
  title: say.titles.frailSpindle,
  description: say.titles.readsAgeingDisksChecks,
};

export default async function RootLayout({ children }: { children: ReactNode }) {
  // Given by `src/proxy.ts`: what does not carry it is not run.
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang={language} suppressHydrationWarning>
      <body>
        {language !== 'en' && <Script src="/messages" strategy="beforeInteractive" nonce={nonce} />}
        {/* Before the first paint, so that a dark room is not lit up. */}
        <script
          nonce={nonce}
          suppressHydrationWarning
          dangerouslySetInnerHTML={{
            __html:
              "try{document.documentElement.dataset.scheme=localStorage.getItem('spindle-scheme')||'light'}catch{}",
          }}
        />
        <Live>
          {/* The stations first: a query that was asked for before would stay empty. */}
          <PrefetchBoundary answers={[]} isFrame>
            <div className="flex h-screen">
              <Sidebar />
              <div className="flex min-w-0 flex-1 flex-col">
                <Notices />
                <main className="min-h-0 flex-1 overflow-auto px-[22px] pt-[18px]">{children}</main>
                <Suspense>
                  <StationBar />
                </Suspense>
              </div>
            </div>
            <CommandLine />
            <OutgoingPapers />
          </PrefetchBoundary>
        </Live>
      </body>
    </html>
  );
}

import type { Metadata } from 'next';
import { Suspense, type ReactNode } from 'react';
import { Live } from '@/ui/data/live';
import { CommandLine } from '@/ui/frame/command-line';
import { OutgoingPapers } from '@/ui/frame/outgoing-papers';
import { Rail } from '@/ui/frame/rail';
import { Spine } from '@/ui/frame/spine';
import { FirstAnswers } from './first-answers';
import './globals.css';

export const dynamic = 'force-dynamic';

export const metadata: Metadata = {
  title: 'Frail Spindle',
  description: 'Reads ageing disks, checks them, opens them, and writes them back.',
};

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        {/* Before the first paint, so that a dark room is not lit up. */}
        <script
          dangerouslySetInnerHTML={{
            __html:
              "try{document.documentElement.dataset.scheme=localStorage.getItem('spindle-scheme')||'light'}catch{}",
          }}
        />
        <Live>
          {/* The stations before anything that asks for them: a query that was asked for first would stay empty in the first view. */}
          <FirstAnswers answers={[]}>
            <div className="flex h-screen">
              <Spine />
              <div className="flex min-w-0 flex-1 flex-col">
                <main className="min-h-0 flex-1 overflow-auto px-[22px] pt-[18px]">{children}</main>
                <Suspense>
                  <Rail />
                </Suspense>
              </div>
            </div>
            <CommandLine />
            <OutgoingPapers />
          </FirstAnswers>
        </Live>
      </body>
    </html>
  );
}

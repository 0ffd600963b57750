'use client';
/** A dialog over the page. */
import { Dialog as Radix } from 'radix-ui';
import type { ReactNode } from 'react';

interface DialogProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  about?: string;
  wide?: boolean;
  children: ReactNode;
}

export function Dialog({ open, onOpenChange, title, about, wide = false, children }: DialogProps) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Radix.Content
          aria-describedby={undefined}
          className={
            `fixed left-1/2 top-[12vh] z-50 max-h-[76vh] ${wide ? 'w-[1100px]' : 'w-[560px]'} ` +
            '-translate-x-1/2 overflow-auto border border-line bg-ground p-5 shadow-xl'
          }
        >
          <Radix.Title className="text-[19px] font-[650]">{title}</Radix.Title>
          {about && <p className="mb-3 text-[13px] text-ink-2">{about}</p>}
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

'use client';
/** The button that begins a receipt, and its dialog: the form first, then the paper. */
import { useState } from 'react';
import { say } from '@/messages';
import { Button } from '../parts/button';
import { Dialog } from '../parts/dialog';
import { ReceiptForm, type ReceiptChoiceProps } from './receipt-form';

interface MakeReceiptProps extends ReceiptChoiceProps {
  /** Of what, as the head of the dialog says it. */
  name: string;
  hotkey?: string;
  /** What the button says; `Receipt` where that is not said. */
  label?: string;
}

export function MakeReceipt({ name, hotkey, label, ...choice }: MakeReceiptProps) {
  const [isOpen, setIsOpen] = useState(false);
  const [made, setMade] = useState<number | null>(null);
  const close = () => {
    setIsOpen(false);
    setMade(null);
  };
  return (
    <>
      <Button hotkey={hotkey} onClick={() => setIsOpen(true)}>
        {label ?? say.receipts.makeOne}
      </Button>
      <Dialog
        open={isOpen}
        onOpenChange={(stays) => !stays && close()}
        title={`${say.receipts.makeOne} · ${name}`}
        about={say.receipts.aboutOne}
      >
        {isOpen && made === null && <ReceiptForm {...choice} onMade={setMade} onLeave={close} />}
        {made !== null && <Made id={made} onDone={close} />}
      </Dialog>
    </>
  );
}

function Made({ id, onDone }: { id: number; onDone: () => void }) {
  return (
    <div role="status" className="flex items-center justify-between gap-4">
      <p>
        {say.receipts.isMade({ id })}{' '}
        <a
          href={`/api/receipts/${id}`}
          target="_blank"
          rel="noreferrer"
          className="font-[650] text-oxide underline"
        >
          {say.receipts.openIt}
        </a>
      </p>
      <Button onClick={onDone}>{say.receipts.done}</Button>
    </div>
  );
}

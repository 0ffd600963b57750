'use client';
/**
 * Sends papers that wait in this browser, from whichever page is open, until the server has them.
 */
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { OUTBOX_EVENT, outgoing, sendOutgoing } from './outbox';

const RETRY_MS = 3000;

export function OutgoingPapers() {
  const client = useQueryClient();
  useEffect(() => {
    let sending = false;
    const send = async () => {
      if (sending) return;
      sending = true;
      try {
        if (!(await outgoing()).some(([, { refused }]) => !refused)) return;
        const { sent } = await sendOutgoing();
        if (sent > 0) await client.invalidateQueries({ queryKey: ['media'] });
      } finally {
        sending = false;
      }
    };
    const now = () => void send();
    now();
    const again = setInterval(now, RETRY_MS);
    window.addEventListener(OUTBOX_EVENT, now);
    window.addEventListener('online', now);
    return () => {
      clearInterval(again);
      window.removeEventListener(OUTBOX_EVENT, now);
      window.removeEventListener('online', now);
    };
  }, [client]);
  return null;
}

import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { tellMarks } from '../screens/inspections/measure/tellMarks.ts';
import { useOutbox } from '../stores/outbox.ts';

/**
 * Sends what waits on the device whenever it can: at the start, when the network is back, and every few seconds while
 * something waits, whatever the browser believes of the network: one that wrongly says there is none would keep it here.
 */
export function useSending(personId: string): number {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { entries, look, send } = useOutbox();
  const waiting = entries.filter((entry) => entry.personId === personId && !entry.refused).length;
  useEffect(() => {
    void look();
  }, [look]);
  useEffect(() => {
    if (waiting === 0) return undefined;
    const attempt = () =>
      void send(personId, (sent) => {
        void queries.invalidateQueries();
        for (const one of sent)
          if (one.kind === 'inspection') void tellMarks(one.unit, one.marks ?? {}, () => void navigate('/measure'));
      });
    attempt();
    const timer = window.setInterval(attempt, SEND_AGAIN_MS);
    window.addEventListener('online', attempt);
    return () => {
      window.clearInterval(timer);
      window.removeEventListener('online', attempt);
    };
  }, [waiting, send, personId, queries, navigate]);
  return entries.filter((entry) => entry.personId === personId).length;
}

/** How often what waits is tried again. */
const SEND_AGAIN_MS = 4000;

export function useOffline(): boolean {
  const [offline, setOffline] = useState(!navigator.onLine);
  useEffect(() => {
    const update = () => setOffline(!navigator.onLine);
    window.addEventListener('online', update);
    window.addEventListener('offline', update);
    return () => {
      window.removeEventListener('online', update);
      window.removeEventListener('offline', update);
    };
  }, []);
  return offline;
}

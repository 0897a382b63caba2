/** What came in and what was opened, for the tab's title and, by choice, for a notice of the device. No content. */
import { getNews } from '@under-lock/contract/received';
import { router } from 'expo-router';
import { useEffect, useRef } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { live } from '../live/live';
import { titleUnread } from '../shell/tab-title';

const ON = 'under-lock-notices-on';

export type NoticesState = 'on' | 'off' | 'refused' | 'impossible';

export function noticesState(): NoticesState {
  if (!('Notification' in window)) return 'impossible';
  if (Notification.permission === 'denied') return 'refused';
  return Notification.permission === 'granted' && localStorage.getItem(ON) === 'on' ? 'on' : 'off';
}

/** Asks the browser's own question where it has not been answered. */
export async function switchNotices(on: boolean): Promise<NoticesState> {
  if (!on) localStorage.removeItem(ON);
  else if ('Notification' in window && (await Notification.requestPermission()) === 'granted')
    localStorage.setItem(ON, 'on');
  return noticesState();
}

/** Silent, and nothing of a message is in it: screens are looked at by others. Tabs replace one another's. */
function notify(about: 'came' | 'opened', text: string, path: string): void {
  if (!document.hidden || noticesState() !== 'on') return;
  const notice = new Notification('Under Lock', { body: text, tag: `under-lock-${about}`, silent: true });
  notice.onclick = () => {
    window.focus();
    router.push(path as never);
    notice.close();
  };
}

export function useNews(): void {
  const { data } = useSWR('news', () => api(getNews), { use: [live('sent', 'received')] });
  const before = useRef(data);
  useEffect(() => {
    titleUnread(data?.unread ?? 0);
    return () => titleUnread(0);
  }, [data?.unread]);
  useEffect(() => {
    const was = before.current;
    before.current = data;
    if (data === undefined || was === undefined) return;
    if (data.unread > was.unread) notify('came', 'Something has come in.', '/mail/received');
    if (data.openedAt !== undefined && (was.openedAt === undefined || data.openedAt > was.openedAt))
      notify('opened', 'Something you sent was opened for the first time.', '/desk');
  }, [data]);
}

import { useMemo } from 'react';
import { keepDoor } from './list/account';
import { ReadingPage, type ReadingPageProps } from './ReadingPage';
import { writingDoor } from './replies';
import { type Visit } from './address';
import { choosingDoor } from './choose/door';
import { confirmDoor } from './visit';

/** The reading page of a real visit. */
export function RoomReading({ visit, ...page }: Omit<ReadingPageProps, 'doors' | 'pdfBase'> & { visit: Visit }) {
  const doors = useMemo(
    () => ({
      writing: writingDoor(visit),
      keeping: keepDoor(visit),
      confirming: confirmDoor(visit),
      choosing: choosingDoor(visit),
    }),
    [visit],
  );
  return <ReadingPage {...page} pdfBase="/room/pdf" doors={doors} />;
}

import { useQuery } from '@tanstack/react-query';
import type { PhysicalFindings } from '@contactum/core';
import type { SheetView } from '@contactum/contract';
import dayjs from 'dayjs';
import { ask } from '../api/client.js';

/**
 * What was found at a physical board: what was otherwise, what explains it, what to read next, and what
 * cannot be true at once.
 */
export function Physical({ attemptId, findings }: { attemptId: string; findings: PhysicalFindings }) {
  const { deviations, contradictions, suspects, next, made, of, wiringEntered, remarks } = findings;
  return (
    <section aria-label="At the bench">
      <h2>At the bench</h2>
      <p className="quiet">
        A physical board: {made} of {of} readings, rows and checks were made.{' '}
        {wiringEntered
          ? 'The leads were entered too; what nobody judged by eye was judged on them.'
          : 'What was not made counts as not tested.'}
      </p>
      {contradictions.length > 0 && (
        <div className="physical-contradictions">
          <strong>! The leads as they were entered cannot show what was read</strong>
          <ul className="must">
            {contradictions.map(({ place, entered, simulated }) => (
              <li key={place}>
                {place}: entered {entered}; that wiring shows {simulated}
              </li>
            ))}
          </ul>
        </div>
      )}
      {deviations.length > 0 && (
        <>
          <h3>Not as expected</h3>
          <ul className="must">
            {deviations.map(({ place, found }) => (
              <li key={place}>
                {place}: {found}
              </li>
            ))}
          </ul>
          <h3>What explains it</h3>
          {suspects.length === 0 ? (
            <p>Nothing that is known explains it: read again, and look at the board.</p>
          ) : (
            <ul className="must">
              {suspects.map((one) => (
                <li key={one}>{one}</li>
              ))}
            </ul>
          )}
          {next !== null && <p>Read next: {next}.</p>}
        </>
      )}
      {remarks && <p>Remarks: {remarks}</p>}
      <Entered attemptId={attemptId} />
    </section>
  );
}

/** A clock within a minute is right. */
const isOff = (behind: number | null): behind is number => behind !== null && Math.abs(behind) > 60;

function offWords(behind: number): string {
  const minutes = Math.round(Math.abs(behind) / 60);
  return `${minutes < 120 ? `${minutes} min` : `${Math.round(minutes / 60)} h`} ${behind > 0 ? 'behind' : 'ahead of'}`;
}

function Entered({ attemptId }: { attemptId: string }) {
  const { data } = useQuery({
    queryKey: ['sheet', attemptId],
    queryFn: () => ask<SheetView | null>('GET', `/attempts/${attemptId}/sheet`),
  });
  if (!data) return null;
  const { enteredBy, sentAt, photo, entries, confirmedBy, confirmedAt, clockBehind } = data;
  return (
    <>
      <p className="quiet">
        Entered by {enteredBy}, sent {dayjs(sentAt).format('D MMM YYYY, HH:mm')}
        {entries.isolatedBy ? `; isolated and proved dead by ${entries.isolatedBy}` : ''}
        {entries.permittedBy ? `; permission given by ${entries.permittedBy}` : '; no permission was signed'}.
        {confirmedAt !== null && confirmedBy !== enteredBy
          ? ` Confirmed by ${confirmedBy}, ${dayjs(confirmedAt).format('D MMM YYYY, HH:mm')}.`
          : ''}
        {isOff(clockBehind) ? ` The clock of the device was ${offWords(clockBehind)} the server's.` : ''}
      </p>
      {photo !== null && (
        <img className="physical-photo" src={photo} alt="The board as it was photographed" />
      )}
    </>
  );
}

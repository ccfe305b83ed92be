import type { ContactProps } from './picture.js';

/** The moving part of a contact, as it is drawn before a frame says otherwise. */
export function Blade({
  column: { x },
  place,
  contact,
  upper,
  lower,
  closed,
}: ContactProps & { closed?: boolean }) {
  const { normally } = contact;
  return (
    <>
      {normally === 'closed' && <line className="symbol" x1={x} y1={upper} x2={x + 9} y2={upper} />}
      <line
        className={`symbol blade ${normally}`}
        x1={x}
        y1={lower}
        x2={x}
        y2={upper}
        style={{ transformOrigin: `${x}px ${lower}px` }}
        data-blade={`${place.device.tag}:${contact.name}`}
        data-contact={`${place.device.tag}:${contact.a}`}
        data-closed={closed === undefined ? undefined : closed ? '1' : '0'}
      />
    </>
  );
}

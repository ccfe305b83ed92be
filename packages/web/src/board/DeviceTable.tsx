import { Link } from 'react-router';
import { plateLink } from '../plate/link.js';
import { isTransformer, kindName, purposeOf, ratingOf, transformerFor, type Device } from '@contactum/core';

/** The devices of a board: tag, kind, rating; with headings and duties where there is room. */
export function DeviceTable({ devices, full = false }: { devices: readonly Device[]; full?: boolean }) {
  return (
    <>
      <Devices devices={devices} full={full} />
      {devices.some(isTransformer) && <TransformerNeed devices={devices} />}
    </>
  );
}

/** What the coils and lamps of a board ask of its control transformer. */
function TransformerNeed({ devices }: { devices: readonly Device[] }) {
  const { sealed, inrush, needed, rating } = transformerFor(devices);
  return (
    <p className="quiet">
      Control transformer: {sealed.toFixed(0)} VA sealed and {inrush.toFixed(0)} VA more as the largest coil
      pulls in ask for 0.8 × {(sealed + inrush).toFixed(0)} = {needed.toFixed(0)} VA
      {rating === null ? '' : `; ${rating} VA is the next usual rating`} (common practice).
    </p>
  );
}

function Devices({ devices, full }: { devices: readonly Device[]; full: boolean }) {
  return (
    <table className="plain">
      {full && (
        <thead>
          <tr>
            <th>Tag</th>
            <th>Device</th>
            <th>Rating</th>
            <th>Duty</th>
          </tr>
        </thead>
      )}
      <tbody>
        {devices.map((device) => (
          <tr key={device.tag}>
            <th scope="row">{device.tag}</th>
            <td>
              <Link to={`/parts/${device.type}`}>{kindName(device)}</Link>
            </td>
            <td>
              <Rating device={device} />
            </td>
            {full && <td>{device.duty ? purposeOf(device) : ''}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What a person reads on a device; a motor's plate opens the plate room with its values. */
function Rating({ device }: { device: Device }) {
  const link = plateLink(device);
  return link ? <Link to={link}>{ratingOf(device)}</Link> : ratingOf(device);
}

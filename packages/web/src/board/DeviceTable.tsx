import { Link } from 'react-router';
import { plateLink } from '../plate/link.js';
import { kindName, purposeOf, ratingOf, type Device } from '@contactum/core';

/** The devices of a board: tag, kind, rating; with headings and duties where there is room. */
export function DeviceTable({ devices, full = false }: { devices: readonly Device[]; full?: boolean }) {
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
            <td>{kindName(device)}</td>
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

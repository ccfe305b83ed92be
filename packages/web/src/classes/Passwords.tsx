import { DownloadOutlined } from '@ant-design/icons';
import { Button, Modal } from 'antd';
import { writeCsv } from '@contactum/core/exchange';
import type { FirstPassword } from '@contactum/contract';

/** First passwords as slips to be handed out; they are shown this once. */
export function Passwords({
  passwords,
  onClose,
}: {
  passwords: readonly FirstPassword[];
  onClose: () => void;
}) {
  const csv = writeCsv(
    ['Name', 'Sign-in name', 'First password'],
    passwords.map(({ person, password }) => [person.name, person.login, password]),
  );
  return (
    <Modal
      open
      title={passwords.length === 1 ? 'First password' : `${passwords.length} first passwords`}
      onCancel={onClose}
      footer={[
        <Button
          key="file"
          icon={<DownloadOutlined />}
          href={`data:text/csv;charset=utf-8,${encodeURIComponent(`\uFEFF${csv}`)}`}
          download="first passwords.csv"
        >
          As a file
        </Button>,
        <Button key="print" onClick={() => window.print()}>
          Print
        </Button>,
        <Button key="done" type="primary" onClick={onClose}>
          Done
        </Button>,
      ]}
    >
      <p>Each is good for one sign-in, at which another one is set. They are shown this once.</p>
      <table className="plain">
        <tbody>
          {passwords.map(({ person, password }) => (
            <tr key={person.id}>
              <td>{person.name}</td>
              <td className="mono">{person.login}</td>
              <td className="mono">
                <strong>{password}</strong>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Modal>
  );
}

import { useRef, useState } from 'react';
import { DownloadOutlined, UploadOutlined } from '@ant-design/icons';
import { Alert, Button, Modal } from 'antd';
import { useQueryClient } from '@tanstack/react-query';
import type { ImportAnswer, ImportLine } from '@contactum/contract';
import { sendLibrary } from '../api/college.js';
import { useToasts } from '../shell/toasts.js';

const DOES: Readonly<Record<ImportLine['does'], string>> = {
  new: '+ new',
  version: '↑ next version',
  same: '= there already',
  copy: '+ a copy beside it',
  bad: '✕ not taken',
};

/** Sends a library: first to be looked at, then to be taken. */
function useSending() {
  const [look, setLook] = useState<{ file: File; answer: ImportAnswer } | null>(null);
  const [error, setError] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const client = useQueryClient();
  const message = useToasts();
  const send = async (chosen: File, commit: boolean): Promise<void> => {
    setBusy(true);
    setError(null);
    try {
      const answer = await sendLibrary(chosen, commit);
      if (!commit) setLook({ file: chosen, answer });
      else {
        setLook(null);
        await client.invalidateQueries({ queryKey: ['exercises'] });
        message.success(`${good(answer).length} exercises taken.`);
      }
    } catch (failure) {
      setError((failure as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return { look, setLook, error, busy, send };
}

/** Exercises as documents: one or many, in and out; what a library would do is shown before it does it. */
export function Library() {
  const file = useRef<HTMLInputElement | null>(null);
  const { look, setLook, error, busy, send } = useSending();
  return (
    <section aria-labelledby="library">
      <h2 id="library">Library</h2>
      <p className="quiet">Exercises as documents, one or a whole library as a zip.</p>
      <span className="hand-row">
        <Button icon={<DownloadOutlined />} href="/api/library.zip" download>
          Export all
        </Button>
        <Button icon={<UploadOutlined />} loading={busy} onClick={() => file.current?.click()}>
          Import
        </Button>
      </span>
      <input
        ref={file}
        type="file"
        accept=".zip,.json"
        hidden
        aria-label="Library to import"
        onChange={({ target }) => {
          const [chosen] = target.files ?? [];
          if (chosen) void send(chosen, false);
          target.value = '';
        }}
      />
      {error && <Alert type="error" showIcon title={error} />}
      {look && (
        <Modal
          open
          title={`Import ${look.file.name}`}
          okText={`Take ${good(look.answer).length}`}
          okButtonProps={{ disabled: good(look.answer).length === 0 }}
          confirmLoading={busy}
          onOk={() => void send(look.file, true)}
          onCancel={() => setLook(null)}
          width={720}
        >
          <Lines lines={look.answer.lines} />
        </Modal>
      )}
    </section>
  );
}

const good = ({ lines }: ImportAnswer): readonly ImportLine[] =>
  lines.filter(({ does }) => does !== 'bad' && does !== 'same');

function Lines({ lines }: { lines: readonly ImportLine[] }) {
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>File</th>
          <th>Exercise</th>
          <th>What it does</th>
        </tr>
      </thead>
      <tbody>
        {lines.map(({ file, title, does, problem }) => (
          <tr key={file}>
            <td className="mono">{file}</td>
            <td>{title}</td>
            <td>
              {DOES[does]}
              {problem && <p className="wrong-text">{problem}</p>}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

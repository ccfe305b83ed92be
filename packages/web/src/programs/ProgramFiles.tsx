import { useRef, useState } from 'react';
import { Alert, Button, Dropdown, Modal } from 'antd';
import { DownloadOutlined, UploadOutlined } from '@ant-design/icons';
import { isConnected, plural, programText, type Connection, type Program } from '@contactum/core';
import { fileName, save } from '../drawing/save.js';
import { useToasts } from '../shell/toasts.js';
import { RungView } from './RungView.js';
import { readProgramFile, type FileRead } from './read-file.js';

const FILES = [
  { key: 'pdf', label: 'PDF' },
  { key: 'st', label: 'Structured text' },
  { key: 'xml', label: 'IEC 61131-10 XML' },
  { key: 'json', label: 'JSON' },
] as const;
type FileKind = (typeof FILES)[number]['key'];

async function contentOf(program: Program, kind: Exclude<FileKind, 'pdf'>): Promise<Blob> {
  if (kind === 'xml') {
    const { programXml } = await import('@contactum/core/exchange');
    return new Blob([programXml(program)], { type: 'application/xml' });
  }
  const text = kind === 'st' ? programText(program) : `${JSON.stringify(program, null, 2)}\n`;
  return new Blob([text], { type: kind === 'st' ? 'text/plain' : 'application/json' });
}

/** Saves a program, and opens one from a file, which is shown before anything is replaced. */
export function ProgramFiles({
  program,
  connections,
  onChange,
}: {
  program: Program;
  connections: readonly Connection[];
  onChange: ((program: Program) => void) | undefined;
}) {
  const message = useToasts();
  const input = useRef<HTMLInputElement | null>(null);
  const [read, setRead] = useState<FileRead | null>(null);
  const write = (kind: FileKind) => {
    const writing =
      kind === 'pdf'
        ? import('../paper/save.js').then(({ saveProgram }) => saveProgram(program))
        : contentOf(program, kind).then((blob) => save(blob, fileName(program.title, kind)));
    writing.catch((error: unknown) => message.error((error as Error).message));
  };
  return (
    <>
      <Dropdown
        trigger={['click']}
        menu={{ items: [...FILES], onClick: ({ key }) => write(key as FileKind) }}
        disabled={program.rungs.length === 0}
      >
        <Button size="small" icon={<DownloadOutlined />}>
          Save as
        </Button>
      </Dropdown>
      {onChange && (
        <Button size="small" icon={<UploadOutlined />} onClick={() => input.current?.click()}>
          Open
        </Button>
      )}
      <input
        ref={input}
        type="file"
        hidden
        aria-label="Program file"
        accept=".st,.txt,.xml,.json"
        onChange={({ target }) => {
          const [file] = target.files ?? [];
          if (file) void readProgramFile(file).then(setRead);
          target.value = '';
        }}
      />
      {read && onChange && (
        <Preview
          {...{ read, connections }}
          before={program}
          onClose={() => setRead(null)}
          onTake={onChange}
        />
      )}
    </>
  );
}

/** What a file holds, rung by rung, or the line at which it cannot be read. */
function Preview({
  read,
  before,
  connections,
  onTake,
  onClose,
}: {
  read: FileRead;
  before: Program;
  connections: readonly Connection[];
  onTake: (program: Program) => void;
  onClose: () => void;
}) {
  const program = read.ok ? read.program : null;
  const places = new Set(connections.map(({ at }) => at));
  const missing =
    program?.variables.flatMap((one) => (isConnected(one) && !places.has(one.at) ? [one.at] : [])) ?? [];
  return (
    <Modal
      open
      width={860}
      title={read.name}
      okText={`Replace ${plural(before.rungs.length, 'rung')} by ${plural(program?.rungs.length ?? 0, 'rung')}`}
      okButtonProps={{ disabled: !program || missing.length > 0 }}
      onOk={() => {
        if (program) onTake(program);
        onClose();
      }}
      onCancel={onClose}
    >
      {!read.ok && <Alert type="error" showIcon title={read.problem} />}
      {missing.length > 0 && (
        <Alert type="error" showIcon title={`This controller has no ${missing.join(', ')}.`} />
      )}
      {program && (
        <div className="program-preview">
          <p className="quiet">
            {plural(program.variables.length, 'variable')}:{' '}
            {program.variables.map(({ name }) => name).join(', ')}
          </p>
          {program.rungs.map((rung, k) => (
            <section key={k}>
              <p>
                {k + 1} {rung.comment}
              </p>
              <RungView
                {...{ program, rung }}
                number={k}
                chosen={null}
                on={null}
                onChoose={() => undefined}
              />
            </section>
          ))}
        </div>
      )}
    </Modal>
  );
}

import { useState } from 'react';
import { Alert, Button, Input, Space } from 'antd';
import { programText, readProgramText, type Program } from '@contactum/core';

/** The same program as structured text, both ways. */
export function TextPane({
  program,
  onChange,
}: {
  program: Program;
  onChange: ((program: Program) => void) | undefined;
}) {
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const shown = text ?? programText(program);
  const take = () => {
    const read = readProgramText(shown);
    if (!read.ok) {
      setProblem(`Line ${read.line}: ${read.message}.`);
      return;
    }
    onChange?.(read.program);
    setText(null);
    setProblem(null);
  };
  return (
    <div className="program-text">
      <Input.TextArea
        aria-label="Structured text"
        className="mono"
        readOnly={!onChange}
        autoSize={{ minRows: 8, maxRows: 30 }}
        value={shown}
        spellCheck={false}
        onChange={({ target }) => {
          setText(target.value);
          setProblem(null);
        }}
      />
      {problem && <Alert type="error" showIcon title={problem} />}
      {onChange && (
        <Space size={6}>
          <Button size="small" type="primary" disabled={text === null} onClick={take}>
            Apply
          </Button>
          <Button
            size="small"
            disabled={text === null}
            onClick={() => {
              setText(null);
              setProblem(null);
            }}
          >
            Discard changes
          </Button>
        </Space>
      )}
    </div>
  );
}

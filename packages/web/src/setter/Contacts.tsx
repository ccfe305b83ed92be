import { PlusOutlined } from '@ant-design/icons';
import { Button, Tag } from 'antd';

/**
 * The next free name of a contact: the first digit counts, the others say NO or NC (EN 50005, from memory).
 */
function nextContact(kind: 'NO' | 'NC', taken: readonly string[]): string {
  const digits = new Set(taken.map((text) => /\d/.exec(text)?.[0]));
  for (let n = 1; n <= 9; n += 1)
    if (!digits.has(String(n))) return kind === 'NO' ? `NO ${n}3-${n}4` : `NC ${n}1-${n}2`;
  return kind === 'NO' ? `NO ${taken.length}3-${taken.length}4` : `NC ${taken.length}1-${taken.length}2`;
}

/** The contacts of a device: one more of either kind, one less. */
export function Contacts({
  label,
  value,
  onChange,
}: {
  label: string;
  value: readonly string[];
  onChange: (value: readonly string[]) => void;
}) {
  return (
    <span className="contacts" role="group" aria-label={label}>
      {value.map((text) => (
        <Tag
          key={text}
          className="mono"
          closable
          onClose={(event) => {
            event.preventDefault();
            onChange(value.filter((one) => one !== text));
          }}
        >
          {text}
        </Tag>
      ))}
      {(['NO', 'NC'] as const).map((kind) => (
        <Button
          key={kind}
          size="small"
          icon={<PlusOutlined />}
          aria-label={`Add a ${kind} contact`}
          onClick={() => onChange([...value, nextContact(kind, value)])}
        >
          {kind}
        </Button>
      ))}
    </span>
  );
}

import { useEffect, useState } from 'react';
import { Modal } from 'antd';
import { KeyList } from './KeyList.js';
import './help.css';

/** The list of keys, shown by `?` wherever nothing is typed. */
export function KeyHelp() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      if (event.key === '?' && !typing) setOpen(true);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  return (
    <Modal title="Keys and pointer" open={open} footer={null} onCancel={() => setOpen(false)} width={640}>
      <KeyList />
    </Modal>
  );
}

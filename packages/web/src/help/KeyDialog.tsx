import { Modal } from 'antd';
import { KeyList } from './KeyList.js';
import './help.css';

export function KeyDialog({ onClose }: { onClose: () => void }) {
  return (
    <Modal title="Keys and pointer" open footer={null} onCancel={onClose} width={640}>
      <KeyList />
    </Modal>
  );
}

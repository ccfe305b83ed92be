import { Segmented } from 'antd';
import type { DrawingForm } from '@contactum/core';

const FORMS: { value: DrawingForm; label: string }[] = [
  { value: 'iec', label: 'Paths (IEC)' },
  { value: 'us', label: 'Ladder (US)' },
];

/** The reader chooses how a drawing reads. */
export const FormSwitch = ({ form, onForm }: { form: DrawingForm; onForm: (form: DrawingForm) => void }) => (
  <Segmented size="small" aria-label="Drawing form" options={FORMS} value={form} onChange={onForm} />
);

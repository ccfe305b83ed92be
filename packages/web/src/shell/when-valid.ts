import type { FormInstance } from 'antd';

/** Takes what a form says, once nothing of it is wrong; what is wrong stands at its field. */
export function whenValid<V>(form: FormInstance<V>, take: (values: V) => unknown): void {
  form.validateFields().then(take, () => undefined);
}

import { createContext, useContext, type ReactNode } from 'react';
import { message } from 'antd';

type Toasts = ReturnType<typeof message.useMessage>[0];

const ToastsHere = createContext<Toasts | null>(null);

/** Where short messages about what was done are shown. */
export function ToastPlace({ children }: { children: ReactNode }) {
  const [toasts, holder] = message.useMessage();
  return (
    <ToastsHere value={toasts}>
      {holder}
      {children}
    </ToastsHere>
  );
}

/** Shows short messages about what was done, or could not be. */
export function useToasts(): Toasts {
  const toasts = useContext(ToastsHere);
  if (!toasts) throw new Error('no place for messages around this part of the page');
  return toasts;
}

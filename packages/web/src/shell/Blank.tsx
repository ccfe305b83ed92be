import type { ReactNode } from 'react';
import { Button } from 'antd';
import { useNavigate } from 'react-router';
import './blank.css';

/** A place with nothing in it: a rung that leads to an open contact and no coil, and how to go on. */
export function Blank({
  title,
  children,
  act,
}: {
  title: string;
  children?: ReactNode;
  act?: { readonly text: string; readonly to: string };
}) {
  const navigate = useNavigate();
  return (
    <main className="page blank">
      <svg viewBox="0 0 240 96" width="240" height="96" aria-hidden="true" className="blank-drawing">
        <path d="M12 8v80M228 8v80" className="blank-rail" />
        <path d="M12 48h68M80 34v28M104 34v28M104 48h32M168 48h60" className="blank-wire" />
        <path d="M136 48a16 16 0 0 1 32 0a16 16 0 0 1 -32 0" className="blank-coil" />
        <circle cx="12" cy="48" r="4" className="blank-dot" />
      </svg>
      <h1>{title}</h1>
      {children && <p className="quiet">{children}</p>}
      {act && (
        <Button type="primary" onClick={() => void navigate(act.to)}>
          {act.text}
        </Button>
      )}
    </main>
  );
}

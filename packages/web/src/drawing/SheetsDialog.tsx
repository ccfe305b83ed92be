import { useMemo, useState } from 'react';
import { Button, Input, Modal, Select } from 'antd';
import dayjs from 'dayjs';
import {
  SHEET_PAPERS,
  framedDrawing,
  pageSvg,
  type Drawing,
  type FramedDrawing,
  type SheetPaper,
  type TitleBlock,
} from '@contactum/core';
import { DRAWING_FILES, saveDrawing, type DrawingFile } from './save.js';
import './sheets-dialog.css';

const PAPER_WORDS: Readonly<Record<SheetPaper, string>> = {
  A4: 'A4',
  A3: 'A3',
  LETTER: 'US Letter',
  TABLOID: 'US Tabloid',
};

const FIELDS: readonly { readonly key: keyof TitleBlock; readonly label: string }[] = [
  { key: 'title', label: 'Title' },
  { key: 'number', label: 'Number' },
  { key: 'author', label: 'Created by' },
  { key: 'date', label: 'Date of issue' },
  { key: 'owner', label: 'Legal owner' },
];

/** What a reader last chose of paper and title block. */
const LAST = 'contactum.sheets';

function lastChosen(): { readonly paper?: SheetPaper; readonly author?: string; readonly owner?: string } {
  try {
    return JSON.parse(localStorage.getItem(LAST) ?? '{}') as ReturnType<typeof lastChosen>;
  } catch {
    return {};
  }
}

/** A drawing on sheets of paper, as it is saved: paper, title block, and every page to look at. */
export function SheetsDialog({
  drawing,
  title,
  author,
  onClose,
}: {
  drawing: Drawing;
  title: string;
  author: string;
  onClose: () => void;
}) {
  const [last] = useState(lastChosen);
  const [paper, setPaper] = useState<SheetPaper>(last.paper ?? (drawing.form === 'us' ? 'LETTER' : 'A4'));
  const [block, setBlock] = useState<TitleBlock>({
    title,
    number: '',
    author: last.author ?? author,
    date: dayjs().format('YYYY-MM-DD'),
    owner: last.owner ?? '',
  });
  const framed = useMemo(() => framedDrawing(drawing, paper, block), [drawing, paper, block]);
  const keep = (change: object) =>
    localStorage.setItem(
      LAST,
      JSON.stringify({ paper, author: block.author, owner: block.owner, ...change }),
    );
  return (
    <Modal open title="Drawing sheets" width="min(1160px, 96vw)" footer={null} onCancel={onClose} centered>
      <div className="sheets-dialog">
        <form className="sheets-fields" onSubmit={(event) => event.preventDefault()}>
          <label>
            Paper
            <Select
              aria-label="Paper"
              value={paper}
              options={SHEET_PAPERS.map((value) => ({ value, label: `${PAPER_WORDS[value]} landscape` }))}
              onChange={(next) => {
                setPaper(next);
                keep({ paper: next });
              }}
            />
          </label>
          <BlockFields
            block={block}
            onBlock={(next) => {
              setBlock(next);
              keep({ author: next.author, owner: next.owner });
            }}
          />
          <SaveButtons framed={framed} />
        </form>
        <Pages framed={framed} />
      </div>
    </Modal>
  );
}

/** What stands in the title block. */
function BlockFields({ block, onBlock }: { block: TitleBlock; onBlock: (block: TitleBlock) => void }) {
  return FIELDS.map(({ key, label }) => (
    <label key={key}>
      {label}
      <Input
        aria-label={label}
        maxLength={80}
        value={block[key]}
        onChange={({ target }) => onBlock({ ...block, [key]: target.value })}
      />
    </label>
  ));
}

function SaveButtons({ framed }: { framed: FramedDrawing }) {
  const [saving, setSaving] = useState<DrawingFile | null>(null);
  const save = async (kind: DrawingFile): Promise<void> => {
    setSaving(kind);
    await saveDrawing(framed, kind).finally(() => setSaving(null));
  };
  return (
    <div className="hand-row">
      {DRAWING_FILES.map((kind) => (
        <Button
          key={kind}
          type={kind === 'pdf' ? 'primary' : 'default'}
          loading={saving === kind}
          onClick={() => void save(kind)}
        >
          {kind.toUpperCase()}
        </Button>
      ))}
    </div>
  );
}

/** Every page as it will be printed. */
function Pages({ framed }: { framed: FramedDrawing }) {
  return (
    <div className="sheets-pages">
      {framed.pages.map((_, k) => (
        <img
          key={k}
          alt={`Sheet ${k + 1} of ${framed.pages.length}`}
          src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(pageSvg(framed, k))}`}
        />
      ))}
    </div>
  );
}

/** Whether something is as it should be: by shape, word and colour. */
export const Told = ({ right }: { right: boolean | null }) => (
  <span className="sheet-told" data-right={right === null ? undefined : right ? 'yes' : 'no'}>
    {right === null ? '○ not tested' : right ? '✓ right' : '✕ otherwise'}
  </span>
);

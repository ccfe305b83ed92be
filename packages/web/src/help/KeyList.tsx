/** What keys and pointer do at a bench. */
const KEYS: readonly (readonly [keys: string, does: string])[] = [
  ['Click, click', 'lays a lead from one terminal to another; a drag does the same'],
  ['Shift and drag', 'lays all three leads of a motor, a contactor or a supply'],
  ['Click a lead', 'chooses it; drag an end to move it, Delete removes it'],
  ['Hold a button', 'presses it; with Shift it stays held, so that two can be held at once'],
  ['Wheel, two fingers', 'enlarge the board; a drag on the bare panel moves it'],
  ['Arrow keys', 'move between terminals'],
  ['Enter', 'begins a lead, and ends it'],
  ['L', 'chooses the next lead at the terminal'],
  ['M', 'takes the chosen lead’s end off, to put it elsewhere'],
  ['Delete', 'removes the chosen lead'],
  ['Ctrl+Z, Ctrl+Y', 'undo and redo'],
  ['/', 'goes to the typed line: KM1 13 > S2 13, G1 L1 L2 L3 > Q1 1 3 5'],
  ['Space, Enter on a button', 'press it while they are held'],
  ['Esc', 'lets go of what is in the hand'],
  ['?', 'shows this list'],
];

export function KeyList() {
  return (
    <table className="plain key-list">
      <caption className="visually-hidden">Keys and pointer</caption>
      <tbody>
        {KEYS.map(([keys, does]) => (
          <tr key={keys}>
            <th scope="row">{keys}</th>
            <td>{does}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/**
 * The reference wiring of an exercise with some wires wrong: each is left out (one in four) or has an end
 * on another terminal of the board. `fails` tells whether a wiring fails; wirings that pass all the same
 * are drawn anew.
 */
export function breakage(core, exercise, wrong, random, fails) {
  const reference = core.referenceBench(exercise);
  const locked = exercise.bench.wires.length;
  const terminals = core.compile(reference).terminals;
  const pick = (list) => list[Math.floor(random() * list.length)];
  for (;;) {
    const wires = [...reference.wires];
    const chosen = new Set();
    while (chosen.size < wrong) chosen.add(locked + Math.floor(random() * (wires.length - locked)));
    const what = [];
    for (const k of chosen) {
      const wire = wires[k];
      if (random() < 0.25) {
        what.push(`${wire.from}>${wire.to} missing`);
        wires[k] = null;
        continue;
      }
      const end = random() < 0.5 ? 'from' : 'to';
      const other = end === 'from' ? wire.to : wire.from;
      const to = pick(terminals.filter((ref) => ref !== wire[end] && ref !== other));
      what.push(`${wire.from}>${wire.to} ${end} on ${to}`);
      wires[k] = { ...wire, [end]: to };
    }
    const bench = { ...reference, wires: wires.filter(Boolean) };
    if (fails(bench)) return { bench, what };
  }
}

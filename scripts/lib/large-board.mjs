/** Four reversing starters with electrical interlocks, each with its overload relay and motor, behind one Stop. */
export function largeBoard(starters = 4) {
  const coil = { voltage: 230, kind: 'ac' };
  const devices = [
    { tag: 'G1', type: 'supply-3n' },
    { tag: 'F1', type: 'fuse', options: { poles: 1, rating: 6 } },
    { tag: 'S0', type: 'pushbutton', duty: 'stop', options: { contacts: ['NC 21-22'] } },
  ];
  const wires = [];
  const wire = (list) => {
    for (const pair of list.trim().split(/\s+/)) {
      const [from, to] = pair.split('>');
      wires.push({ from, to });
    }
  };
  wire('G1:L1>F1:1 F1:2>S0:21');
  for (let n = 1; n <= starters; n += 1) {
    const [q, f, forward, reverse, relay, motor, one, other] = [`Q${n}`, `F${n}2`, `KM${n}1`, `KM${n}2`, `F${n}2`, `M${n}`, `S${n}1`, `S${n}2`];
    devices.push(
      { tag: q, type: 'breaker', options: { poles: 3, rating: 16 } },
      { tag: forward, type: 'contactor', options: { coil, aux: ['NO 13-14', 'NC 21-22'] } },
      { tag: reverse, type: 'contactor', options: { coil, aux: ['NO 13-14', 'NC 21-22'] } },
      { tag: f, type: 'overload', options: { range: [2.5, 4] } },
      { tag: one, type: 'pushbutton', duty: 'forward', options: { contacts: ['NO 13-14'] } },
      { tag: other, type: 'pushbutton', duty: 'reverse', options: { contacts: ['NO 13-14'] } },
      { tag: motor, type: 'motor-3', options: { leads: 3, internal: 'star', plate: { kW: 1.5, voltage: 400, speed: 1420, current: 3.4 } } },
    );
    wire(`G1:L1>${q}:1 G1:L2>${q}:3 G1:L3>${q}:5 ${q}:2>${forward}:1 ${q}:4>${forward}:3 ${q}:6>${forward}:5
      ${forward}:1>${reverse}:1 ${forward}:3>${reverse}:3 ${forward}:5>${reverse}:5 ${reverse}:2>${forward}:6 ${reverse}:4>${forward}:4 ${reverse}:6>${forward}:2
      ${forward}:2>${relay}:1 ${forward}:4>${relay}:3 ${forward}:6>${relay}:5 ${relay}:2>${motor}:U ${relay}:4>${motor}:V ${relay}:6>${motor}:W G1:PE>${motor}:PE
      S0:22>${relay}:95 ${relay}:96>${one}:13 ${one}:13>${other}:13 ${one}:13>${forward}:13 ${other}:13>${reverse}:13
      ${forward}:14>${one}:14 ${reverse}:14>${other}:14 ${one}:14>${reverse}:21 ${reverse}:22>${forward}:A1 ${other}:14>${forward}:21 ${forward}:22>${reverse}:A1
      ${forward}:A2>G1:N ${reverse}:A2>G1:N`);
  }
  return { contactum: 'bench/1', title: `${starters} reversing starters, one Stop`, devices, wires };
}

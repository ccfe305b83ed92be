/**
 * Four reversing starters with electrical interlocks, each with its overload relay and motor, behind one
 * Stop.
 */
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
    const [q, f, forward, reverse, relay, motor, one, other] = [
      `Q${n}`,
      `F${n}2`,
      `KM${n}1`,
      `KM${n}2`,
      `F${n}2`,
      `M${n}`,
      `S${n}1`,
      `S${n}2`,
    ];
    devices.push(
      { tag: q, type: 'breaker', options: { poles: 3, rating: 16 } },
      { tag: forward, type: 'contactor', options: { coil, aux: ['NO 13-14', 'NC 21-22'] } },
      { tag: reverse, type: 'contactor', options: { coil, aux: ['NO 13-14', 'NC 21-22'] } },
      { tag: f, type: 'overload', options: { range: [2.5, 4] } },
      { tag: one, type: 'pushbutton', duty: 'forward', options: { contacts: ['NO 13-14'] } },
      { tag: other, type: 'pushbutton', duty: 'reverse', options: { contacts: ['NO 13-14'] } },
      {
        tag: motor,
        type: 'motor-3',
        options: { leads: 3, internal: 'star', plate: { kW: 1.5, voltage: 400, speed: 1420, current: 3.4 } },
      },
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

/**
 * The same board for SPIN: every situation on the way is a state, coils decide first, then whatever moves
 * arrives; an armature that lets go leaves before one that pulls in arrives. It asserts that no two
 * contactors of a starter are in at once while the supply is on.
 */
export function largePromela(starters = 4) {
  const all = Array.from({ length: starters }, (_, k) => k + 1);
  const moving = ['stop', ...all.flatMap((n) => [`f${n}`, `a${n}`, `b${n}`, `p${n}`, `q${n}`])];
  const buttons = ['stop', ...all.flatMap((n) => [`p${n}`, `q${n}`])];
  const held = buttons.map((name) => `(${name} != 0)`).join(' + ');
  const armatures = all.flatMap((n) => [
    [`a${n}`, `FORWARD${n}`],
    [`b${n}`, `REVERSE${n}`],
  ]);
  const moves = (name) => `(${name} == 1 || ${name} == 3 || ${name} == 4)`;
  return `byte ${moving.join(', ')};
bool supply = 1;
#define NC(m) (m == 0)
#define NO(m) (m == 2 || m == 4)
#define FED (supply && NC(stop))
${all
  .map(
    (n) => `#define FORWARD${n} (FED && NC(f${n}) && (NO(p${n}) || NO(a${n})) && NC(b${n}))
#define REVERSE${n} (FED && NC(f${n}) && (NO(q${n}) || NO(b${n})) && NC(a${n}))`,
  )
  .join('\n')}
#define RESTS (!(${moving.map(moves).join(' || ')}))
#define HELD (${held})
#define LETGO (${armatures.map(([name]) => `${name} == 4`).join(' || ')})
inline react(x, wanted) {
  if
  :: wanted && (x == 0 || x == 3) -> x = 1; changed = 1
  :: wanted && x == 4 -> x = 2; changed = 1
  :: !wanted && x == 2 -> x = 4; changed = 1
  :: else -> skip
  fi
}
inline arrive(x) {
  if
  :: x == 1 -> x = 2
  :: x == 3 -> x = 0
  :: x == 4 -> x = 3
  fi
}
byte changed, u, v;
inline decide() {
  do
  :: true -> changed = 0;
${all.map((n) => `     u = FORWARD${n}; v = REVERSE${n}; react(a${n}, u); react(b${n}, v);`).join('\n')}
     if
     :: changed == 0 -> break
     :: else -> skip
     fi
  od;
  changed = 0; u = 0; v = 0;
${all.map((n) => `  assert(!(supply && NO(a${n}) && NO(b${n})));`).join('\n')}
}
active proctype board() {
  do
${moving
  .filter((name) => !/^[ab]/.test(name))
  .map((name) => `  :: d_step { ${moves(name)} -> arrive(${name}); decide() }`)
  .join('\n')}
${armatures
  .map(
    ([name, fed]) => `  :: d_step { (${name} == 3 || ${name} == 4) -> arrive(${name}); decide() }
  :: d_step { ${name} == 1 && !LETGO -> ${name} = 2; decide() }
  :: d_step { ${name} == 1 && !LETGO && !${fed} -> ${name} = 3; decide() }`,
  )
  .join('\n')}
${buttons.map((name) => `  :: d_step { RESTS && ${name} == 0 && HELD < 2 -> ${name} = 1; decide() }\n  :: d_step { RESTS && ${name} == 2 -> ${name} = 3; decide() }`).join('\n')}
${buttons.flatMap((one, k) => buttons.slice(k + 1).map((other) => `  :: d_step { RESTS && HELD == 0 -> ${one} = 1; ${other} = 1; decide() }`)).join('\n')}
${all.map((n) => `  :: d_step { RESTS && f${n} == 0 -> f${n} = 1; decide() }\n  :: d_step { RESTS && f${n} == 2 -> f${n} = 3; decide() }`).join('\n')}
  :: d_step { RESTS && supply -> supply = 0; decide() }
  :: d_step { RESTS && !supply -> supply = 1; decide() }
  od
}
`;
}

/** People of Saltmarsh Technical College; every one of them is made up. */
export const PASSWORD = 'tidewater';

export const INSTRUCTOR = { login: 'brack', name: 'Tamsin Brack' };

export const CLASSES = [
  {
    name: 'Pan Fitters 1A',
    students: [
      ['skerry', 'Ebba Skerry'],
      ['dune', 'Colm Dune'],
      ['marram', 'Ottilie Marram'],
      ['sluys', 'Jonas Sluys'],
      ['fenn', 'Maud Fenn'],
      ['quayle', 'Idris Quayle'],
      ['brine', 'Wanda Brine'],
      ['cobble', 'Piet Cobble'],
      ['eddy', 'Sorrel Eddy'],
      ['gannet', 'Luc Gannet'],
      ['haven', 'Nessa Haven'],
      ['jetty', 'Bram Jetty'],
      ['kelp', 'Runa Kelp'],
      ['limpet', 'Oskar Limpet'],
      ['mudd', 'Fleur Mudd'],
      ['neap', 'Tobin Neap'],
    ],
  },
  {
    name: 'Pan Fitters 1B',
    students: [
      ['osier', 'Greta Osier'],
      ['plover', 'Emrys Plover'],
      ['reed', 'Hanne Reed'],
      ['sandling', 'Arlo Sandling'],
      ['tern', 'Vesna Tern'],
      ['undertow', 'Felix Undertow'],
      ['vane', 'Mirjam Vane'],
      ['whelk', 'Dorian Whelk'],
      ['yarrow', 'Ines Yarrow'],
      ['zeeland', 'Casper Zeeland'],
      ['ashore', 'Lotte Ashore'],
      ['bollard', 'Ruben Bollard'],
      ['creel', 'Signe Creel'],
      ['drift', 'Magnus Drift'],
    ],
  },
] as const;

/** Students of the class at work whom whoever tries the demonstration may sign in as. */
export const READERS: ReadonlySet<string> = new Set(['osier', 'ashore']);

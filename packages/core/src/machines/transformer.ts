/**
 * Small control transformers drop about 6 % of their voltage in resistance and 2 % in leakage reactance at
 * rated load, and draw about 5 % of their rated current without load; the winding resistances share the
 * loss equally. Common practice, no source. The rated secondary voltage is the voltage without load.
 */
const RESISTANCE = 0.06;
const REACTANCE = 0.02;
const NO_LOAD_CURRENT = 0.05;
/** Frequency to which the reactance refers, Hz. */
const FREQUENCY = 50;

/**
 * Ratio, series impedance seen from the secondary, magnetising branch (ohms, henries) and winding
 * resistances (ohms) from the plate.
 */
export function transformerImpedance(primaryVoltage: number, secondaryVoltage: number, va: number) {
  const ratio = primaryVoltage / secondaryVoltage;
  const base = (secondaryVoltage * secondaryVoltage) / va;
  return {
    ratio,
    series: { ohms: RESISTANCE * base, henries: (REACTANCE * base) / (2 * Math.PI * FREQUENCY) },
    /** Magnetising branch across the primary. */
    magnetising: {
      ohms: RESISTANCE * base * ratio * ratio,
      henries: (base * ratio * ratio) / NO_LOAD_CURRENT / (2 * Math.PI * FREQUENCY),
    },
    primaryOhms: (RESISTANCE / 2) * base * ratio * ratio,
    secondaryOhms: (RESISTANCE / 2) * base,
  };
}

/**
 * Files of commas both ways: what is imported is shown line by line first. An entry of its own, since it
 * brings a reader of CSV.
 */
export { readClassList, type ListedStudent } from './class-list.js';
export { readCsv, takenOf, writeCsv, type CsvRow, type ImportLine, type Preview } from './csv.js';
export { readFaultList, writeFaultList } from './fault-list.js';
export { readMaterials, writeMaterials } from './materials.js';
export { listedWires, readWireList, writeWireList } from './wire-list.js';
export { programXml } from './program-xml.js';
export { readProgramXml } from './read-program-xml.js';

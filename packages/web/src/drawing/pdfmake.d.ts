/** What is used of the writer of PDFs, which brings no types. */
declare module 'pdfmake/build/pdfmake.js' {
  const pdfMake: {
    addVirtualFileSystem(files: Readonly<Record<string, string>>): void;
    createPdf(definition: object): { getBlob(): Promise<Blob> };
  };
  export default pdfMake;
}
declare module 'pdfmake/build/vfs_fonts.js' {
  const files: Readonly<Record<string, string>>;
  export default files;
}

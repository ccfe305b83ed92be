export const BROWSER: { readonly executablePath: string; args: string[] };

export function commandPath(command: string): string | undefined
export function debianPackages(command: string, packages: readonly string[]): Promise<void>
export function npmPackages(): Promise<void>

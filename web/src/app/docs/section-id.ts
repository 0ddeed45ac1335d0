/** The name of a section as links write it: lower case, without signs, with dashes for spaces. */
export function sectionId(title: string): string {
  return title
    .toLowerCase()
    .replace(/[^\p{L}\p{N}\s_-]/gu, '')
    .replace(/\s/g, '-');
}

import { saltmarshSignsIcons, type SaltmarshSignsName } from "../dist/web/saltmarsh-signs";

const notice: SaltmarshSignsName = "tide-low";

/** Returns the sign for the weather of the day; which one is known only when the page runs. */
export function weatherSign(name: SaltmarshSignsName): string {
  return saltmarshSignsIcons[name].character;
}

export const fixed = [saltmarshSignsIcons["lighthouse"].character, saltmarshSignsIcons.anchor.character, notice];

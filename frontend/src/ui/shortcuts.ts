/** Keys that act: the one place that says when a key is a shortcut and when it is typed. */
import { useEffect } from 'react'

type Pressed = KeyboardEvent | React.KeyboardEvent
export type Shortcuts = Record<string, (() => void) | undefined | false>

/** Where keys become text or choose something: nothing typed there is a shortcut. */
const TYPED = [
  'input',
  'textarea',
  'select',
  '[contenteditable]:not([contenteditable="false"])',
  ...['textbox', 'searchbox', 'combobox', 'spinbutton', 'listbox', 'menu'].map((role) => `[role="${role}"]`),
].join(',')

/**
 * What to do on a key press with the keys of a table, by `event.key`.
 *
 * Left alone are keys with Ctrl, Alt or the system's key, keys under way to become a letter, what somebody else has
 * dealt with, and everything typed into a field or in a dialog that lies over the part that listens.
 */
export function pressed(keys: Shortcuts): (e: Pressed) => void {
  return (e) => {
    const composing = 'nativeEvent' in e ? e.nativeEvent.isComposing : e.isComposing
    if (e.defaultPrevented || composing || e.ctrlKey || e.metaKey || e.altKey) return
    const { target, currentTarget } = e
    if (target instanceof Element && target.closest(TYPED)) return
    if (currentTarget instanceof Node && target instanceof Node && !currentTarget.contains(target)) return
    const act = Object.hasOwn(keys, e.key) ? keys[e.key] : undefined
    if (!act) return
    e.preventDefault()
    act()
  }
}

/** The handler of a component's own shortcuts, for its `onKeyDown`. */
export const useShortcuts = (keys: Shortcuts): ((e: Pressed) => void) => pressed(keys)

/** Keys that act wherever the focus is. */
export function useShortcutsEverywhere(keys: Shortcuts): void {
  useEffect(() => {
    const onKey = pressed(keys)
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  })
}

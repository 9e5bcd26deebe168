// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { pressed } from '../src/ui/shortcuts'

const act = vi.fn()

function press(on: Element, init: KeyboardEventInit, held = false): KeyboardEvent {
  const event = new KeyboardEvent('keydown', { bubbles: true, cancelable: true, ...init })
  if (held) event.preventDefault()
  const listen = pressed({ t: act, Escape: false, ' ': undefined })
  document.addEventListener('keydown', listen)
  on.dispatchEvent(event)
  document.removeEventListener('keydown', listen)
  return event
}

const made = (html: string): Element => {
  document.body.innerHTML = html
  const found = document.body.querySelector('[data-at]') ?? document.body.firstElementChild
  if (!found) throw new Error(html)
  return found
}

describe('a shortcut', () => {
  beforeEach(() => act.mockReset())

  it('acts on its key alone, and keeps the browser from acting too', () => {
    const at = made('<main tabindex="0"></main>')
    expect(press(at, { key: 't' }).defaultPrevented).toBe(true)
    for (const key of ['T', 'x', 'Escape', ' ', 'toString']) press(at, { key })
    expect(act).toHaveBeenCalledTimes(1)
  })

  it('is typed where people type', () => {
    const fields = [
      '<input data-at>',
      '<textarea></textarea>',
      '<select></select>',
      '<div contenteditable="true"><b data-at></b></div>',
    ]
    const roles = ['textbox', 'searchbox', 'combobox', 'spinbutton', 'listbox', 'menu'].map(
      (role) => `<div role="${role}"><span data-at></span></div>`,
    )
    for (const html of [...fields, ...roles]) {
      expect(press(made(html), { key: 't' }).defaultPrevented, html).toBe(false)
      expect(act, html).not.toHaveBeenCalled()
    }
  })

  it('leaves alone what belongs to system, browser, or somebody else', () => {
    const at = made('<main></main>')
    for (const init of [{ ctrlKey: true }, { metaKey: true }, { altKey: true }, { isComposing: true }])
      press(at, { key: 't', ...init })
    press(at, { key: 't' }, true)
    expect(act).not.toHaveBeenCalled()
  })
})

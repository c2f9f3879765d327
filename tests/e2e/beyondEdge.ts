import { type Page } from '@playwright/test'

/** What of a view is beyond the right edge and cannot be scrolled to. */
export const beyondEdge = (page: Page) =>
  page.evaluate(() => {
    const width = document.documentElement.clientWidth
    const scrolls = (element: Element | null): boolean =>
      element !== null && (/(auto|scroll)/.test(getComputedStyle(element).overflowX) || scrolls(element.parentElement))
    return [...document.querySelectorAll('body *')]
      .filter((element) => {
        const { right, width: own } = element.getBoundingClientRect()
        return own > 0 && right > width + 1 && element.textContent.trim() !== '' && !scrolls(element.parentElement)
      })
      .map((element) => element.textContent.trim().slice(0, 60))
  })

import type { Page } from '@playwright/test'

/** What was rendered since it was asked for last: how many components, by the nearest named place on the screen. */
export interface Rendered {
  commits: number
  components: number
  places: Record<string, number>
}

interface Fiber {
  flags: number
  tag: number
  stateNode: unknown
  alternate: Fiber | null
  child: Fiber | null
  sibling: Fiber | null
  return: Fiber | null
}

/** Lets a page count its renders, through the hook that React offers to developer tools. Before the page is opened. */
export async function countRenders(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const counted = { commits: 0, components: 0, places: {} as Record<string, number> }
    // React's own numbers: a component that rendered in this commit; function components, memoised ones, DOM elements.
    const performedWork = 1
    const components = new Set([0, 1, 11, 14, 15])
    const element = 5
    const nameOf = (fiber: Fiber): string => {
      for (let at: Fiber | null = fiber; at; at = at.return)
        if (at.tag === element) {
          const named = (at.stateNode as Element).closest('[aria-label]')
          if (named) return named.getAttribute('aria-label')!
        }
      return 'the page'
    }
    const visit = (fiber: Fiber, before: Fiber | null) => {
      if (components.has(fiber.tag) && fiber.flags & performedWork && fiber !== before) {
        counted.components++
        const name = nameOf(fiber)
        counted.places[name] = (counted.places[name] ?? 0) + 1
      }
      // What is the same child as before was not looked at.
      if (before && fiber.child === before.child) return
      for (let child = fiber.child; child; child = child.sibling) visit(child, child.alternate)
    }
    Object.assign(window, {
      __counted: counted,
      __REACT_DEVTOOLS_GLOBAL_HOOK__: {
        supportsFiber: true,
        inject: () => 1,
        onCommitFiberUnmount: () => {},
        onPostCommitFiberRoot: () => {},
        onCommitFiberRoot: (_id: number, root: { current: Fiber }) => {
          counted.commits++
          visit(root.current, root.current.alternate)
        },
      },
    })
  })
}

/** What has been rendered since the last time. */
export const rendered = (page: Page): Promise<Rendered> =>
  page.evaluate(() => {
    const { __counted: counted } = window as unknown as { __counted: Rendered }
    const { commits, components, places } = counted
    Object.assign(counted, { commits: 0, components: 0, places: {} })
    return { commits, components, places }
  })

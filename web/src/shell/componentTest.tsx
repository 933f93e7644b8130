import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render } from "@testing-library/react";
import { afterEach, expect } from "vitest";
import { axe } from "vitest-axe";

import { system } from "../theme/system";

afterEach(cleanup);

// Nothing is laid out in a test, so nothing ever changes its size.
window.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};

/** A component as the application shows it, with its styles and no server. */
export function show(component: React.ReactNode) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>{component}</QueryClientProvider>
    </ChakraProvider>,
  );
}

/** Nothing that a person who cannot see, or cannot point, would miss. */
export async function expectAccessible(container: Element) {
  const found = await axe(container, { rules: { region: { enabled: false } } });
  expect(found.violations.map((one) => `${one.id}: ${one.nodes[0]?.html ?? ""}`)).toEqual([]);
}

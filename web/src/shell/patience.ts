/** Set up before every component test: how long `waitFor` and `findBy` wait before they give up. */
import { configure } from "@testing-library/react";

configure({ asyncUtilTimeout: 20_000 });

import type { ReactNode, SVGProps } from "react";

interface Props extends Omit<SVGProps<SVGTextElement>, "fontSize" | "fontWeight"> {
  size: number;
  bold?: boolean;
  /** Words in the reading face; numbers stay in the monospaced one. */
  words?: boolean;
  /** Colour of a rim that keeps the text legible over the drawing. */
  halo?: string;
  children: ReactNode;
}

/** Text in a drawing. Size and weight go in as style: the page's reset overrides attributes. */
export function Label({ size, bold, words, halo, children, ...rest }: Props) {
  return (
    <text
      {...rest}
      {...(halo ? { stroke: halo, strokeWidth: size * 0.26, strokeLinejoin: "round" } : {})}
      style={{
        fontSize: size,
        fontWeight: bold ? 700 : 400,
        fontFamily: `var(--lr-fonts-${words ? "body" : "mono"})`,
        paintOrder: "stroke",
      }}
    >
      {children}
    </text>
  );
}

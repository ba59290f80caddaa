import { type ComponentProps, forwardRef } from "react";
import { Button as AriaButton, ToggleButton as AriaToggleButton } from "react-aria-components";
import { afterReading } from "./reading";
import { useLatest } from "./remembered";

/** A button that waits for the numbers that were typed before it was pressed, and acts on what they are by then. */
export const Button = forwardRef<HTMLButtonElement, ComponentProps<typeof AriaButton>>(function Button(
  { onPress, ...rest },
  ref,
) {
  const act = useLatest(onPress);
  return <AriaButton ref={ref} {...rest} onPress={onPress && ((event) => afterReading(() => act.current?.(event)))} />;
});

/** A button that stays pressed; it waits as the other does. */
export const ToggleButton = forwardRef<HTMLButtonElement, ComponentProps<typeof AriaToggleButton>>(
  function ToggleButton({ onChange, ...rest }, ref) {
    const act = useLatest(onChange);
    return (
      <AriaToggleButton ref={ref} {...rest} onChange={onChange && ((on) => afterReading(() => act.current?.(on)))} />
    );
  },
);

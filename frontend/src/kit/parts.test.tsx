import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { ChoiceToken } from "./ChoiceToken";
import { ColourToken } from "./ColourToken";
import { NameDialog } from "./NameDialog";
import { Segments } from "./Segments";

afterEach(cleanup);

describe("a name is asked for", () => {
  const ask = (suggestion = "Scree") => {
    const onName = vi.fn();
    const onClose = vi.fn();
    render(
      <NameDialog open title="Rename" suggestion={suggestion} action="Rename" onClose={onClose} onName={onName} />,
    );
    const field = screen.getByRole("textbox", { name: "Name" });
    const type = (value: string) => fireEvent.change(field, { target: { value } });
    return { onName, onClose, type, button: () => screen.getByRole<HTMLButtonElement>("button", { name: "Rename" }) };
  };

  it("starts from a suggestion and gives the name without spaces around it", () => {
    const { onName, onClose, type, button } = ask();
    type("  Peat hags ");
    fireEvent.click(button());
    expect(onName).toHaveBeenCalledWith("Peat hags");
    expect(onClose).toHaveBeenCalled();
  });

  it.each(["", "   ", "a/b", "a\\b", "a:b", "x".repeat(61)])("refuses %j before it is sent", (name) => {
    const { onName, type, button } = ask();
    type(name);
    expect(button().disabled).toBe(true);
    const form = button().closest("form");
    if (form) fireEvent.submit(form);
    expect(onName).not.toHaveBeenCalled();
  });
});

describe("a choice in a sentence", () => {
  const choices = [
    { value: "a", label: "slope", group: "Ground where" },
    { value: "b", label: "height", group: "Ground where" },
    { value: "c", label: "Water margin", group: "The mask" },
  ];

  it("opens a grouped menu and tells only real changes", () => {
    const onChange = vi.fn();
    render(<ChoiceToken label="What is read" value="a" choices={choices} onChange={onChange} />);
    fireEvent.click(screen.getByRole("button", { name: /^What is read/ }));
    const menu = screen.getByRole("menu");
    expect(within(menu).getAllByRole("menuitem")).toHaveLength(3);
    expect(within(menu).getByText("The mask")).toBeTruthy();
    fireEvent.click(within(menu).getByRole("menuitem", { name: "slope" }));
    expect(onChange).not.toHaveBeenCalled();
    fireEvent.click(screen.getByRole("button", { name: "What is read: slope", hidden: true }));
    fireEvent.click(screen.getByRole("menuitem", { name: "Water margin" }));
    expect(onChange).toHaveBeenCalledExactlyOnceWith("c");
  });

  it("asks to choose when what it stood for is gone", () => {
    render(<ChoiceToken label="What is read" value="gone" choices={choices} onChange={() => undefined} />);
    expect(screen.getByRole("button", { name: "What is read: choose…" })).toBeTruthy();
  });
});

describe("segments and colours", () => {
  it("say which one is chosen", () => {
    const onChange = vi.fn();
    const options = [
      { value: "plan", label: "Plan" },
      { value: "relief", label: "Relief" },
    ] as const;
    render(<Segments label="View" options={[...options]} value="plan" onChange={onChange} />);
    expect(screen.getByRole("radio", { name: "Plan" }).getAttribute("aria-checked")).toBe("true");
    fireEvent.click(screen.getByRole("radio", { name: "Relief" }));
    expect(onChange).toHaveBeenCalledWith("relief");
  });

  it("answer to arrow keys, all the way round, as one stop of the Tab key", () => {
    const onChange = vi.fn();
    const options = ["plan", "relief", "both"].map((value) => ({ value, label: value }));
    render(<Segments label="View" options={options} value="both" onChange={onChange} />);
    const radios = screen.getAllByRole("radio");
    expect(radios.map((radio) => radio.tabIndex)).toEqual([-1, -1, 0]);
    const last = radios[2] as HTMLElement;
    for (const key of ["ArrowRight", "ArrowLeft", "Home"]) fireEvent.keyDown(last, { key });
    expect(onChange.mock.calls).toEqual([["plan"], ["relief"]]);
  });

  it("saves a colour once, when the picker is left", () => {
    const onCommit = vi.fn();
    render(<ColourToken label="Colour of Rock" value="#888888" onCommit={onCommit} />);
    const input = screen.getByLabelText("Colour of Rock");
    fireEvent.change(input, { target: { value: "#112233" } });
    fireEvent.change(input, { target: { value: "#445566" } });
    expect(onCommit).not.toHaveBeenCalled();
    fireEvent.blur(input);
    expect(onCommit).toHaveBeenCalledExactlyOnceWith("#445566");
    fireEvent.blur(input);
    expect(onCommit).toHaveBeenCalledTimes(1);
  });
});

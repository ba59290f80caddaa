import { ModalOverlay, Modal } from "react-aria-components";
import styled from "styled-components";
import { card } from "./tokens";

/** A sheet of paper laid over the desk. */
export const Overlay = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: rgba(32, 35, 34, 0.55);
  display: grid;
  place-items: center;
  z-index: 40;
`;
export const Sheet = styled(Modal)`
  background: ${card};
  border-radius: 4px;
  padding: 22px 26px;
  max-width: 640px;
  outline: none;
  max-height: 90vh;
  overflow: auto;
  h2 {
    font-size: 17px;
    font-weight: 700;
    margin-bottom: 12px;
  }
  section:focus {
    outline: none;
  }
`;

//! Paper that is printed on, and what can go wrong with it.

use crate::photo::PhotoError;
use serde::{Deserialize, Serialize};
use thiserror::Error;

/// Paper for the packet, landscape.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Paper {
    /// 11 × 8 1/2 in.
    Letter,
    /// 297 × 210 mm (ISO 216).
    A4,
}

impl Paper {
    /// Width and height in points, 1/72 in.
    pub fn size(self) -> (f32, f32) {
        match self {
            Paper::Letter => (792.0, 612.0),
            Paper::A4 => (841.89, 595.28),
        }
    }
}

/// The packet could not be written.
#[derive(Debug, Error)]
#[error("The packet could not be written: {0}")]
pub struct PacketError(String);

impl PacketError {
    pub(crate) fn typefaces() -> PacketError {
        PacketError("its typefaces cannot be read".into())
    }

    pub(crate) fn too_long() -> PacketError {
        PacketError(
            "a panel longer than 5.08 m does not go on one page of PDF. Take the SVG of it, or a wider roll."
                .into(),
        )
    }

    pub(crate) fn pdf_in_svg() -> PacketError {
        PacketError("its art is a PDF, which no SVG can hold. Take the panel as PDF.".into())
    }

    pub(crate) fn art(error: &PhotoError) -> PacketError {
        PacketError(error.to_string())
    }

    pub(crate) fn writing(error: &impl std::fmt::Debug) -> PacketError {
        PacketError(format!("{error:?}"))
    }
}

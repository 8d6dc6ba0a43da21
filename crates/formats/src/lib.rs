//! Open formats: SVG outlines at full size and the printed job packet as PDF.
//!
//! Takes the core's plans and writes files; works nothing out that the core has not.

pub mod packet;
mod sheet;
pub mod svg;

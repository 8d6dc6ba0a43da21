//! Open formats: SVG and DXF in and out at full size, photos, and printed sheets as PDF.
//!
//! Takes the core's plans and writes files, reads files into the core's types; works nothing out that the core has not.

pub mod bundle;
pub mod calendar;
pub mod care_sheet;
pub mod drawing;
pub mod dxf;
pub mod marking_drawing;
pub mod marking_report;
pub mod one_page;
pub mod packet;
pub mod panel_files;
pub mod panel_map;
mod paper;
pub mod photo;
mod picture;
pub mod print_art;
mod sheet;
pub mod shelf_csv;
pub mod story;
pub mod stroke_sheet;
pub mod svg;
pub mod walk_sheet;

//! What film is: its classes and their figures, the films of a shop, the rolls that they are on, and how a piece is to be worked.

pub mod classes;
pub mod data_sheet;
pub mod ink;
pub mod laminate;
pub mod roll;
pub mod stocked;
pub mod supply;
pub mod work;

//! What film is: its classes and their figures, and how a piece of it is to be worked.

pub mod classes;
pub mod work;

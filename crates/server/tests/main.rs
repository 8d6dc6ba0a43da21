//! The server, its API and its interface: real PostgreSQL, real browser.
#![allow(
    clippy::expect_used,
    clippy::panic,
    clippy::unwrap_used,
    dead_code,
    missing_docs
)]

mod api;
mod archive;
mod arrows;
mod backups;
mod browser;
mod bundles;
mod common;
mod crew;
mod door;
mod film;
mod floor;
mod hand_over;
mod house;
mod lay_out;
mod live;
mod look_over;
mod marking;
mod releases;
mod shared;
mod sign_in;
mod strain;
mod strip_prep;
mod thermometer;
mod trust;

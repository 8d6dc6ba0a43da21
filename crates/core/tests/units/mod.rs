//! Modules by themselves.

mod art_lettering_draw;
mod floor_hang_upright;
mod floor_hangs_at;
mod ground_budget;
mod ground_outline;
mod ground_tape;
mod marking_face;
mod place_fit;
mod place_row;
mod place_spots_grid;
mod shop_progress;
mod vehicle_body;
mod vehicle_feature;
mod vehicle_measured_measure;
mod vehicle_plan_view;
mod vehicle_side;
mod vehicle_snap;
mod vehicle_square_up;
mod vehicle_surface;
mod vehicle_walk_round;

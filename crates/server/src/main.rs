//! `windrift-server migrate | demo FOLDER | serve | read | openapi | schema`. The launcher `./windrift` runs these.

use std::process::ExitCode;

fn main() -> ExitCode {
    windrift_server::command::main()
}

//! The program. See `wayfinder --help`.

fn main() -> std::process::ExitCode {
    wayfinder_server::cli::main()
}

//! `wayfinder serve`.

use std::net::SocketAddr;
use std::path::PathBuf;
use std::sync::Arc;
use std::time::Duration;

use clap::Args;
use tracing_subscriber::EnvFilter;

use super::files::Bad;
use crate::{Hub, JoinCode, demo, spawn};

#[derive(Args)]
pub struct ServeArgs {
    /// Serve the demo house, from a database that is gone at the end unless --data names one.
    #[arg(long)]
    demo: bool,
    /// The database.
    #[arg(long)]
    data: Option<PathBuf>,
    /// Address and port. 0.0.0.0:PORT lets other devices in with the join code.
    #[arg(long, default_value = "127.0.0.1:8420")]
    listen: SocketAddr,
    /// Let phones in by HTTPS as well: with a certificate authority of the house's own, made once and kept beside the database.
    #[arg(long)]
    tls: bool,
}

/// How long a house that was thrown away can be taken back: thirty days.
const DELETED_KEPT_HOURS: i64 = 30 * 24;

pub fn serve(args: &ServeArgs) -> Result<(), Bad> {
    let filter = EnvFilter::try_from_default_env().unwrap_or_else(|_| EnvFilter::new("warn"));
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).init();
    let runtime = tokio::runtime::Builder::new_multi_thread().enable_all().build().map_err(Bad::new)?;
    runtime.block_on(run(args))
}

async fn run(args: &ServeArgs) -> Result<(), Bad> {
    let hub = open(args)?;
    if args.demo && hub.count().map_err(Bad::new)? == 0 {
        demo::add(&hub).map_err(Bad::new)?;
    }
    let forgotten = jiff::Timestamp::now() - jiff::SignedDuration::from_hours(DELETED_KEPT_HOURS);
    hub.store.erase_deleted(forgotten).map_err(Bad::new)?;
    let code = hub.gate.join.0.clone();
    let (address, mut serving) =
        spawn(args.listen, hub.clone()).await.map_err(|e| Bad::new(format!("--listen {}: {e}", args.listen)))?;
    println!("Wayfinder is at http://{}", if address.ip().is_unspecified() { here(address) } else { address });
    if args.tls {
        // The authority itself comes plainly: nothing can be fetched by HTTPS before it is trusted.
        hub.door.open_plain().map_err(|e| Bad::new(format!("--tls: {e:#}")))?;
        hub.door.open_secure().await.map_err(|e| Bad::new(format!("--tls: {e:#}")))?;
    }
    let ways = hub.door.ways();
    for way in &ways.plain {
        println!("On a phone on the same network: http://{way}/join#code={code}");
    }
    for (way, plain) in ways.secure.iter().zip(&ways.plain) {
        println!("By HTTPS, once the phone trusts http://{plain}/authority.crt: https://{way}/join#code={code}");
    }
    if let Some(port) = hub.door.secure_port().filter(|_| ways.secure.is_empty()) {
        println!(
            "HTTPS is at port {port}, but this machine has no address of a home's network: only such can be vouched for"
        );
    }
    if !(ways.plain.is_empty() && ways.secure.is_empty()) {
        println!("Join code: {code}");
    }
    let settling = tokio::spawn(settle_when_idle(hub.clone()));
    let ended = tokio::select! {
        served = &mut serving => served.map_err(Bad::new)?.map_err(Bad::new),
        asked = asked_to_end() => asked.map_err(Bad::new),
    };
    // Every acknowledged change is on the disk already; now all of them are in the one file, too.
    serving.abort();
    hub.door.close();
    settling.abort();
    hub.store.close().map_err(Bad::new)?;
    ended
}

/// How often it is looked whether nothing has changed for a while.
const IDLE: Duration = Duration::from_secs(2);

/// Brings what was changed into the one file whenever nothing goes on, so that a copy of that file is whole.
async fn settle_when_idle(hub: Arc<Hub>) {
    let mut before = 0;
    loop {
        tokio::time::sleep(IDLE).await;
        let open = hub.store.unsettled();
        if open > 0 && open == before {
            let hub = hub.clone();
            // Whoever reads meanwhile may hold it up; the next time does it.
            if let Ok(Err(e)) = tokio::task::spawn_blocking(move || hub.store.settle()).await {
                tracing::warn!("the database could not be settled: {e}");
            }
        }
        before = open;
    }
}

/// Ctrl-C, the system's word to end, or a terminal that was closed.
#[cfg(unix)]
async fn asked_to_end() -> std::io::Result<()> {
    use tokio::signal::unix::{SignalKind, signal};
    let was_told_to_stay = ignores_hang_up();
    let [mut interrupt, mut terminate, mut hang_up] =
        [signal(SignalKind::interrupt())?, signal(SignalKind::terminate())?, signal(SignalKind::hangup())?];
    tokio::select! {
        _ = interrupt.recv() => {}
        _ = terminate.recv() => {}
        _ = hang_up.recv(), if !was_told_to_stay => {}
    }
    Ok(())
}

/// `nohup` has a program ignore that its terminal was closed; then it goes on.
#[cfg(unix)]
fn ignores_hang_up() -> bool {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let mask = status.lines().find_map(|line| line.strip_prefix("SigIgn:"));
    // Signal 1 is the lowest bit.
    mask.and_then(|mask| u64::from_str_radix(mask.trim(), 16).ok()).is_some_and(|mask| mask & 1 == 1)
}

#[cfg(not(unix))]
async fn asked_to_end() -> std::io::Result<()> {
    tokio::signal::ctrl_c().await
}

fn here(address: SocketAddr) -> SocketAddr {
    SocketAddr::new([127, 0, 0, 1].into(), address.port())
}

fn open(args: &ServeArgs) -> Result<Arc<Hub>, Bad> {
    let join = JoinCode::new().map_err(Bad::new)?;
    match &args.data {
        Some(path) => Hub::open(path, join).map_err(|e| Bad::new(format!("--data {}: {e}", path.display()))),
        None if args.demo => Hub::temporary(join).map_err(Bad::new),
        None => {
            let path = PathBuf::from("wayfinder.db");
            Hub::open(&path, join).map_err(|e| Bad::new(format!("{}: {e}", path.display())))
        }
    }
}

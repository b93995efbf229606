//! The program `wayfinder`: the HTTP API with live events, the embedded web app, and the command line.
//!
//! This crate turns requests and arguments into calls of the core and answers into JSON, tables and files. It must
//! hold no rule of the trade: what it says of a house, the core said.

pub mod cli;
pub mod demo;

mod api;
mod assets;
mod authority;
mod bench;
mod door;
mod drawer;
mod error;
mod gate;
mod guard;
mod hub;
mod known;
mod present;
mod unreadable;

use std::net::SocketAddr;
use std::sync::Arc;

use tokio::net::TcpListener;
use tokio::task::JoinHandle;

pub use api::{for_pages, openapi, router};
pub use gate::JoinCode;
pub use hub::Hub;

/// Serves on an address until the task is aborted. Port 0 takes a free one; the address in use is returned.
///
/// # Errors
/// Where the address cannot be listened on.
pub async fn spawn(
    address: SocketAddr,
    hub: Arc<Hub>,
) -> std::io::Result<(SocketAddr, JoinHandle<std::io::Result<()>>)> {
    let listener = TcpListener::bind(address).await?;
    let address = listener.local_addr()?;
    let served = Arc::downgrade(&hub);
    hub.door.starts_at(address, move || served.upgrade().map(api::router));
    let service = api::router(hub).into_make_service_with_connect_info::<SocketAddr>();
    Ok((address, tokio::spawn(async move { axum::serve(listener, service).await })))
}

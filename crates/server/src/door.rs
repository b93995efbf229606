//! The door for other devices: the addresses of this machine that are listened on, plainly and by HTTPS. It can be opened
//! while the program runs.

use std::net::{IpAddr, Ipv4Addr, SocketAddr, TcpListener};
use std::path::PathBuf;
use std::sync::{Arc, Mutex, PoisonError};

use anyhow::{Context, Result};
use axum::Router;
use axum_server::tls_rustls::RustlsConfig;
use jiff::Zoned;
use tokio::task::JoinHandle;

use crate::authority::{Authority, is_at_home};

/// What is served at an address; nothing where the program is at its end.
type Serves = Box<dyn Fn() -> Option<Router> + Send>;

/// What is listened on.
pub struct Door {
    /// The database that the authority is kept beside; nothing where it is gone at the end.
    data: Option<PathBuf>,
    /// The addresses that other devices reach this machine by.
    addresses: fn() -> Vec<Ipv4Addr>,
    open: Mutex<Open>,
    serves: Mutex<Option<Serves>>,
}

#[derive(Default)]
struct Open {
    /// Where the program was started.
    first: Option<SocketAddr>,
    plain: Vec<SocketAddr>,
    secure: Option<Secure>,
    listening: Vec<JoinHandle<()>>,
}

struct Secure {
    port: u16,
    authority: Arc<Authority>,
}

/// Where other devices get in.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Ways {
    /// By HTTP.
    pub plain: Vec<SocketAddr>,
    /// By HTTPS.
    pub secure: Vec<SocketAddr>,
}

/// The machine's addresses that other devices can reach.
pub fn addresses() -> Vec<Ipv4Addr> {
    let all = if_addrs::get_if_addrs().unwrap_or_default();
    let v4 = all.into_iter().filter_map(|i| if let IpAddr::V4(ip) = i.ip() { Some(ip) } else { None });
    v4.filter(|ip| !ip.is_loopback()).collect()
}

impl Door {
    pub fn new(data: Option<PathBuf>, addresses: fn() -> Vec<Ipv4Addr>) -> Self {
        Self { data, addresses, open: Mutex::default(), serves: Mutex::default() }
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, Open> {
        // Nothing that is done under this lock can panic half way.
        self.open.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// The program listens here from its start, and serves the same wherever it is opened later.
    pub fn starts_at(&self, address: SocketAddr, serves: impl Fn() -> Option<Router> + Send + 'static) {
        self.lock().first = Some(address);
        *self.serves.lock().unwrap_or_else(PoisonError::into_inner) = Some(Box::new(serves));
    }

    fn service(&self) -> Result<Router> {
        let serves = self.serves.lock().unwrap_or_else(PoisonError::into_inner);
        serves.as_ref().and_then(|serves| serves()).context("nothing is served yet")
    }

    /// Where other devices get in.
    pub fn ways(&self) -> Ways {
        let open = self.lock();
        let reached = (self.addresses)();
        let at = |port: u16| reached.iter().map(move |ip| SocketAddr::new((*ip).into(), port));
        let first = open.first.map_or_else(Vec::new, |first| match first.ip() {
            ip if ip.is_unspecified() => at(first.port()).collect(),
            IpAddr::V4(ip) if ip.is_loopback() && !reached.contains(&ip) => Vec::new(),
            _ => vec![first],
        });
        let secure = open.secure.as_ref().map_or_else(Vec::new, |s| {
            at(s.port).filter(|a| matches!(a.ip(), IpAddr::V4(ip) if is_at_home(ip))).collect()
        });
        Ways { plain: first.into_iter().chain(open.plain.iter().copied()).collect(), secure }
    }

    /// The port of HTTPS, where it is served.
    pub fn secure_port(&self) -> Option<u16> {
        self.lock().secure.as_ref().map(|s| s.port)
    }

    /// The authority's certificate, where there is one.
    pub fn authority(&self) -> Option<String> {
        self.lock().secure.as_ref().map(|s| s.authority.pem().to_owned())
    }

    /// Stops listening on what was opened later.
    pub fn close(&self) {
        let listening = std::mem::take(&mut self.lock().listening);
        listening.iter().for_each(JoinHandle::abort);
    }

    /// Lets other devices in by HTTP: listens on all addresses of this machine where it did not.
    ///
    /// # Errors
    /// Where none of them can be listened on.
    pub fn open_plain(&self) -> Result<()> {
        let Some(first) = self.lock().first.filter(|first| first.ip().is_loopback()) else { return Ok(()) };
        let mut why = None;
        for ip in (self.addresses)() {
            let address = SocketAddr::new(ip.into(), first.port());
            if address == first || self.lock().plain.contains(&address) {
                continue;
            }
            match listen(address) {
                Ok(listener) => {
                    let service = self.service()?.into_make_service_with_connect_info::<SocketAddr>();
                    let server = axum_server::from_tcp(listener)?;
                    let serving = tokio::spawn(async move { drop(server.serve(service).await) });
                    let mut open = self.lock();
                    open.plain.push(address);
                    open.listening.push(serving);
                }
                Err(e) => why = Some(e.context(format!("{address} cannot be listened on"))),
            }
        }
        match why {
            Some(why) if self.lock().plain.is_empty() => Err(why),
            _ => Ok(()),
        }
    }

    /// Lets other devices in by HTTPS, under the authority of the house, which is made where there is none.
    ///
    /// # Errors
    /// Where the authority cannot be kept, or no port listened on.
    pub async fn open_secure(&self) -> Result<()> {
        if self.secure_port().is_some() {
            return Ok(());
        }
        let today = Zoned::now().date();
        let authority = Authority::beside(self.data.as_deref(), today)?;
        let reached = (self.addresses)();
        let leaf = authority.vouch(&reached, today)?;
        let config = RustlsConfig::from_der(vec![leaf.certificate], leaf.key).await?;
        // Beside the plain one where that is free.
        let wanted = self.lock().first.map_or(0, |first| first.port().saturating_add(1));
        let own = |port| listen(SocketAddr::new(Ipv4Addr::LOCALHOST.into(), port));
        let here = own(wanted).or_else(|_| own(0)).context("no port for HTTPS can be listened on")?;
        let port = here.local_addr()?.port();
        let others = reached.into_iter().filter(|ip| !ip.is_loopback());
        let others = others.map(|ip| listen(SocketAddr::new(ip.into(), port)).with_context(|| format!("{ip}:{port}")));
        let all = [Ok(here)].into_iter().chain(others).collect::<Result<Vec<_>>>()?;
        let mut serving = Vec::new();
        for listener in all {
            let service = self.service()?.into_make_service_with_connect_info::<SocketAddr>();
            let server = axum_server::from_tcp_rustls(listener, config.clone())?;
            serving.push(tokio::spawn(async move { drop(server.serve(service).await) }));
        }
        let mut open = self.lock();
        open.secure = Some(Secure { port, authority: Arc::new(authority) });
        open.listening.extend(serving);
        Ok(())
    }
}

fn listen(address: SocketAddr) -> Result<TcpListener> {
    let listener = TcpListener::bind(address)?;
    listener.set_nonblocking(true)?;
    Ok(listener)
}

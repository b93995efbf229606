//! What stands in for a bench meter: it answers as one would, of a measurement that its maker gives it.

use std::io::{BufRead, BufReader, Read, Write};
use std::net::{TcpListener, TcpStream};
use std::sync::Arc;

use crate::Function;

/// What a stand-in measures: the value of a function where its probes are; nothing for overload.
pub trait Measures: Send + Sync + 'static {
    /// Puts the probes to a place, as `(@Main,A,N)` names it. False where there is no such place.
    fn put(&self, place: &str) -> bool;
    /// What is shown.
    fn show(&self, function: Function) -> Option<f64>;
}

/// A stand-in, once it listens.
#[derive(Debug)]
pub struct StandIn<M> {
    measures: Arc<M>,
}

/// Who it says it is.
const IDENTITY: &str = "WAYFINDER,STAND-IN,0,1";
/// Longest line that is taken.
const LONGEST: u64 = 4096;
/// [pub: SCPI-99, overload, value from memory]
const OVERLOAD: &str = "+9.90000000E+37";

impl<M: Measures> StandIn<M> {
    /// Measures this.
    #[must_use]
    pub fn new(measures: M) -> Self {
        Self { measures: Arc::new(measures) }
    }

    /// Answers whoever connects, each in a thread of its own, until the listener fails.
    ///
    /// # Errors
    /// What the listener says.
    pub fn serve(&self, listener: &TcpListener) -> std::io::Result<()> {
        loop {
            let (stream, _) = listener.accept()?;
            let measures = self.measures.clone();
            // A line that breaks ends its own thread alone.
            std::thread::spawn(move || answer(stream, measures.as_ref()));
        }
    }
}

fn answer<M: Measures>(stream: TcpStream, measures: &M) -> std::io::Result<()> {
    let mut write = stream.try_clone()?;
    let mut lines = BufReader::new(stream);
    let (mut function, mut errors) = (Function::Volts, Vec::new());
    loop {
        let mut line = Vec::new();
        if lines.by_ref().take(LONGEST).read_until(b'\n', &mut line)? == 0 {
            return Ok(());
        }
        let text = String::from_utf8_lossy(&line);
        for command in text.trim().split(';').map(str::trim).filter(|c| !c.is_empty()) {
            if let Some(said) = obey(command, measures, &mut function, &mut errors) {
                write.write_all(format!("{said}\n").as_bytes())?;
            }
        }
    }
}

/// One command; what it answers, if it asks. [pub: SCPI-99: errors are kept until SYST:ERR? asks for them, value from memory]
fn obey<M: Measures>(
    command: &str,
    measures: &M,
    function: &mut Function,
    errors: &mut Vec<&'static str>,
) -> Option<String> {
    let upper = command.to_ascii_uppercase();
    let (word, place) = command.split_once(char::is_whitespace).unwrap_or((command, ""));
    match upper.as_str() {
        "*IDN?" => return Some(IDENTITY.to_owned()),
        "*RST" | "*CLS" => {
            errors.clear();
            *function = Function::Volts;
        }
        "CONF:VOLT:AC" | "CONFIGURE:VOLTAGE:AC" => *function = Function::Volts,
        "CONF:CURR:AC" | "CONFIGURE:CURRENT:AC" => *function = Function::Amps,
        "CONF:TEMP" | "CONFIGURE:TEMPERATURE" => *function = Function::Degrees,
        "READ?" => return Some(measures.show(*function).map_or_else(|| OVERLOAD.to_owned(), |v| format!("{v:+.6E}"))),
        "SYST:ERR?" | "SYSTEM:ERROR?" => {
            let oldest = if errors.is_empty() { "0,\"No error\"" } else { errors.remove(0) };
            return Some(oldest.to_owned());
        }
        _ if word.eq_ignore_ascii_case("ROUT:CLOS") && measures.put(place.trim()) => {}
        _ if word.eq_ignore_ascii_case("ROUT:CLOS") => errors.push("-224,\"Illegal parameter value\""),
        _ => errors.push("-113,\"Undefined header\""),
    }
    None
}

//! The client: one meter at one address. It connects when it is first needed and once more where the line has gone.

use std::io::{BufRead, BufReader, ErrorKind, Read, Write};
use std::net::{SocketAddr, TcpStream};
use std::time::Duration;

/// What is measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Function {
    /// Alternating voltage.
    Volts,
    /// Alternating current.
    Amps,
    /// Temperature.
    Degrees,
}

impl Function {
    /// The command that sets the meter to it. [pub: SCPI-99, CONFigure, value from memory]
    fn command(self) -> &'static str {
        match self {
            Self::Volts => "CONF:VOLT:AC",
            Self::Amps => "CONF:CURR:AC",
            Self::Degrees => "CONF:TEMP",
        }
    }
}

/// What a meter says it is. [pub: IEEE 488.2, *IDN?: four fields, value from memory]
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Identity {
    /// Who made it.
    pub maker: String,
    /// Its model.
    pub model: String,
}

/// Why nothing was read.
#[derive(Debug, thiserror::Error)]
pub enum MeterError {
    /// Nobody answers there.
    #[error("no meter answers at {0}: is it on, and on this network?")]
    NotThere(SocketAddr),
    /// It did not answer in time.
    #[error("the meter did not answer in time: is it still measuring, or set to another function?")]
    TimedOut,
    /// The line was closed before anything came.
    #[error("the meter closed the line before it answered: nothing was taken over, read again")]
    Closed,
    /// The line was closed in the middle of an answer.
    #[error("the meter closed the line in the middle of a reading: nothing was taken over, read again")]
    CutShort,
    /// What came back is no number.
    #[error("what came back is no reading: \"{0}\"")]
    Garbage(String),
    /// More than its range.
    #[error("the meter shows overload: choose another range or another place")]
    Overload,
}

/// A meter at an address.
#[derive(Debug)]
pub struct Meter {
    address: SocketAddr,
    patience: Duration,
    line: Option<BufReader<TcpStream>>,
}

/// Longest answer that is taken: a reading is some twenty letters.
const LONGEST: u64 = 4096;
/// Shown of what is no reading.
const SHOWN: usize = 40;
/// What stands for overload and for "not a number". [pub: SCPI-99, 9.9E37 and 9.91E37, value from memory]
const OVERLOAD: f64 = 9.9e37;

impl Meter {
    /// A meter; nothing is sent yet. It is waited for at most so long at each step.
    #[must_use]
    pub fn new(address: SocketAddr, patience: Duration) -> Self {
        Self { address, patience, line: None }
    }

    /// What it is.
    ///
    /// # Errors
    /// Where nobody answers, or not as a meter does.
    pub fn identify(&mut self) -> Result<Identity, MeterError> {
        let text = self.ask(&["*IDN?"])?;
        let mut fields = text.split(',').map(|f| f.trim().to_owned());
        match (fields.next(), fields.next(), fields.next()) {
            (Some(maker), Some(model), Some(_)) => Ok(Identity { maker, model }),
            _ => Err(garbage(&text)),
        }
    }

    /// One reading of this function: volts, amperes or degrees Celsius. `before` is sent first, line by line: where the probes
    /// are, to a stand-in that cannot know it otherwise.
    ///
    /// # Errors
    /// Where nobody answers, or no number comes back.
    pub fn read(&mut self, function: Function, before: &[String]) -> Result<f64, MeterError> {
        let mut lines: Vec<&str> = before.iter().map(String::as_str).collect();
        lines.extend([function.command(), "READ?"]);
        let text = self.ask(&lines)?;
        let value: f64 = text.parse().map_err(|_| garbage(&text))?;
        match value {
            v if !v.is_finite() => Err(garbage(&text)),
            v if v.abs() >= OVERLOAD => Err(MeterError::Overload),
            v => Ok(v),
        }
    }

    /// Sends lines and waits for one. A line that had gone since the last time is connected once more.
    fn ask(&mut self, lines: &[&str]) -> Result<String, MeterError> {
        let had = self.line.is_some();
        match self.try_ask(lines) {
            Err(MeterError::Closed) if had => {
                self.line = None;
                // It answered a moment ago: that it is gone now is what there is to say.
                self.try_ask(lines)
                    .map_err(|e| if matches!(e, MeterError::NotThere(_)) { MeterError::Closed } else { e })
            }
            other => other,
        }
        .inspect_err(|_| self.line = None)
    }

    fn try_ask(&mut self, lines: &[&str]) -> Result<String, MeterError> {
        if self.line.is_none() {
            self.line = Some(self.connect()?);
        }
        let Some(line) = &mut self.line else { return Err(MeterError::NotThere(self.address)) };
        for text in lines {
            line.get_mut().write_all(format!("{text}\n").as_bytes()).map_err(|e| went_wrong(&e))?;
        }
        let mut answer = Vec::new();
        line.by_ref().take(LONGEST).read_until(b'\n', &mut answer).map_err(|e| went_wrong(&e))?;
        match answer.last() {
            Some(b'\n') => {}
            None => return Err(MeterError::Closed),
            Some(_) if answer.len() as u64 == LONGEST => return Err(garbage(&String::from_utf8_lossy(&answer))),
            Some(_) => return Err(MeterError::CutShort),
        }
        Ok(String::from_utf8_lossy(&answer).trim().to_owned())
    }

    fn connect(&self) -> Result<BufReader<TcpStream>, MeterError> {
        let not_there = |_| MeterError::NotThere(self.address);
        let stream = TcpStream::connect_timeout(&self.address, self.patience).map_err(not_there)?;
        stream.set_read_timeout(Some(self.patience)).map_err(not_there)?;
        stream.set_write_timeout(Some(self.patience)).map_err(not_there)?;
        Ok(BufReader::new(stream))
    }
}

fn went_wrong(error: &std::io::Error) -> MeterError {
    match error.kind() {
        ErrorKind::WouldBlock | ErrorKind::TimedOut => MeterError::TimedOut,
        _ => MeterError::Closed,
    }
}

fn garbage(text: &str) -> MeterError {
    let shown = text.chars().filter(|c| !c.is_control()).take(SHOWN).collect();
    MeterError::Garbage(shown)
}

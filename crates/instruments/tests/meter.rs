//! The client against its stand-in, and against whatever else may answer at an address. All on 127.0.0.1 and free ports.

#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

use std::io::{BufRead, BufReader, Write};
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::sync::Mutex;
use std::time::Duration;

use wayfinder_instruments::{Function, Measures, Meter, MeterError, StandIn};

const PATIENCE: Duration = Duration::from_millis(500);

/// Volts where the probes are: 120.4 at first, 0 elsewhere; current is overload.
struct Bench(Mutex<f64>);

impl Measures for Bench {
    fn put(&self, place: &str) -> bool {
        let known = place == "(@Main,A,B)";
        if known {
            *self.0.lock().unwrap() = 240.8;
        }
        known
    }

    fn show(&self, function: Function) -> Option<f64> {
        match function {
            Function::Volts => Some(*self.0.lock().unwrap()),
            Function::Amps => None,
            Function::Degrees => Some(-5.25),
        }
    }
}

fn stand_in() -> SocketAddr {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let address = listener.local_addr().unwrap();
    std::thread::spawn(move || StandIn::new(Bench(Mutex::new(120.4))).serve(&listener));
    address
}

/// Answers each connection in turn by one of these.
fn says(answers: Vec<fn(TcpStream)>) -> SocketAddr {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let address = listener.local_addr().unwrap();
    std::thread::spawn(move || {
        answers.into_iter().for_each(|say| listener.accept().map(|(s, _)| say(s)).unwrap_or(()))
    });
    address
}

fn after_read(stream: &TcpStream) {
    let lines = BufReader::new(stream.try_clone().unwrap()).lines();
    let _ = lines.map_while(Result::ok).find(|line| line == "READ?");
}

#[test]
fn a_reading_comes_back_as_a_number() {
    let mut meter = Meter::new(stand_in(), PATIENCE);
    assert_eq!(meter.identify().unwrap().model, "STAND-IN");
    assert_eq!(meter.read(Function::Volts, &[]).unwrap(), 120.4);
    assert_eq!(meter.read(Function::Degrees, &[]).unwrap(), -5.25);
    assert!(matches!(meter.read(Function::Amps, &[]), Err(MeterError::Overload)));
    assert_eq!(meter.read(Function::Volts, &["ROUT:CLOS (@Main,A,B)".into()]).unwrap(), 240.8);
}

// SCPI-99 from memory: what is not understood is kept as an error, and the line goes on.
#[test]
fn a_stand_in_keeps_errors_until_it_is_asked() {
    let stream = TcpStream::connect(stand_in()).unwrap();
    let mut lines = BufReader::new(stream.try_clone().unwrap()).lines();
    let say = |text: &str| (&stream).write_all(format!("{text}\n").as_bytes()).unwrap();
    say("MEAS:NONSENSE?");
    say("rout:clos (@Attic)");
    say("SYST:ERR?;SYST:ERR?;SYST:ERR?;conf:volt:ac;read?");
    let told: Vec<String> = (0..4).map(|_| lines.next().unwrap().unwrap()).collect();
    assert_eq!(
        told,
        ["-113,\"Undefined header\"", "-224,\"Illegal parameter value\"", "0,\"No error\"", "+1.204000E2"]
    );
}

#[test]
fn nobody_there_silence_and_garbage_are_told_apart() {
    let gone = TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap();
    assert!(matches!(Meter::new(gone, PATIENCE).identify(), Err(MeterError::NotThere(_))));
    let silent = says(vec![|stream| {
        after_read(&stream);
        std::thread::sleep(3 * PATIENCE);
    }]);
    assert!(matches!(Meter::new(silent, PATIENCE).read(Function::Volts, &[]), Err(MeterError::TimedOut)));
    // A line that is closed with something unread on it takes back what was said on it (RFC 9293, 3.6.1): these read first.
    let teapot = says(vec![|mut s| {
        after_read(&s);
        s.write_all(b"HTTP/1.1 400 Bad Request\r\n").unwrap();
    }]);
    let told = Meter::new(teapot, PATIENCE).read(Function::Volts, &[]).unwrap_err();
    assert!(told.to_string().contains("no reading: \"HTTP/1.1 400"), "{told}");
    let endless = says(vec![|mut s| {
        let _ = s.write_all(&vec![b'9'; 100_000]);
        std::thread::sleep(PATIENCE);
    }]);
    assert!(matches!(Meter::new(endless, PATIENCE).read(Function::Volts, &[]), Err(MeterError::Garbage(_))));
    let nan = says(vec![|mut s| {
        after_read(&s);
        s.write_all(b"NAN\n").unwrap();
    }]);
    assert!(matches!(Meter::new(nan, PATIENCE).read(Function::Volts, &[]), Err(MeterError::Garbage(_))));
}

#[test]
fn a_meter_that_is_ended_mid_reading_gives_no_number_and_one_that_comes_back_is_found_again() {
    let ended = says(vec![|mut stream| {
        after_read(&stream);
        let _ = stream.write_all(b"+1.2");
    }]);
    let told = Meter::new(ended, PATIENCE).read(Function::Volts, &[]).unwrap_err();
    assert!(matches!(told, MeterError::CutShort), "half a number is none: {told}");
    let twice = says(vec![
        |mut stream| {
            after_read(&stream);
            let _ = stream.write_all(b"+1.190000E+02\n");
        },
        |mut stream| {
            after_read(&stream);
            let _ = stream.write_all(b"+1.210000E+02\n");
        },
    ]);
    let mut meter = Meter::new(twice, PATIENCE);
    assert_eq!(meter.read(Function::Volts, &[]).unwrap(), 119.0);
    assert_eq!(meter.read(Function::Volts, &[]).unwrap(), 121.0);
}

//! A server of the demo house on a free port of 127.0.0.1, for tests over HTTP.

use std::net::SocketAddr;
use std::sync::Arc;

use reqwest::header::CONTENT_TYPE;
use reqwest::{Client, RequestBuilder, Response, StatusCode};
use serde_json::{Value, json};
use tokio::task::JoinHandle;
use wayfinder_server::{Hub, JoinCode, demo, spawn};

pub struct Server {
    pub client: Client,
    pub address: SocketAddr,
    pub task: JoinHandle<std::io::Result<()>>,
}

impl Drop for Server {
    fn drop(&mut self) {
        self.task.abort();
    }
}

impl Server {
    pub async fn start(hub: Arc<Hub>) -> Self {
        let (address, task) = spawn(([127, 0, 0, 1], 0).into(), hub).await.unwrap();
        Self { client: Client::new(), address, task }
    }

    pub async fn demo() -> Self {
        // Drawings are drawn by the program, not by this test.
        let program = env!("CARGO_BIN_EXE_wayfinder").into();
        let hub = Hub::temporary_with(JoinCode("135790".into()), program).unwrap();
        demo::add(&hub).unwrap();
        Self::start(hub).await
    }

    pub fn url(&self, path: &str) -> String {
        format!("http://{}{path}", self.address)
    }

    pub fn get(&self, path: &str) -> RequestBuilder {
        self.client.get(self.url(path))
    }

    pub fn post(&self, path: &str, body: &Value) -> RequestBuilder {
        self.client.post(self.url(path)).json(body)
    }

    pub async fn read(&self, path: &str) -> Value {
        let answer = self.get(path).send().await.unwrap();
        assert_eq!(answer.status(), StatusCode::OK, "{path}");
        answer.json().await.unwrap()
    }

    pub async fn change(&self, base: Option<u64>, change: Value) -> Response {
        let body = json!({ "base": base, "author": "Wren", "change": change });
        self.post("/api/v1/houses/1/changes", &body).send().await.unwrap()
    }
}

/// The problem document of an answer: its status, type and field.
pub async fn problem(answer: Response) -> (u16, String, String) {
    let status = answer.status().as_u16();
    assert_eq!(answer.headers()[CONTENT_TYPE], "application/problem+json");
    let body: Value = answer.json().await.unwrap();
    assert_eq!(body["status"], status);
    assert!(!body["detail"].as_str().unwrap().is_empty());
    let text = |name: &str| body[name].as_str().unwrap_or("").to_owned();
    (status, text("type").replace("/problems/", ""), text("field"))
}

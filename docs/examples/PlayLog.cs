// Sends what happens in a game to Glue Trace. The address and the token stand under Play logs.
using System;
using System.Collections.Concurrent;
using System.Collections.Generic;
using System.Net.Http;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Threading;
using System.Threading.Tasks;

public sealed class PlayLog
{
    private readonly HttpClient client = new();
    private readonly BlockingCollection<Dictionary<string, object>> waiting = new();
    private readonly string address;
    private int last;

    public PlayLog(string address, string token)
    {
        this.address = address;
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        Task.Run(Send);
    }

    /// <summary>Gives the id of the event, to be the cause of others.</summary>
    public string Note(string type, string source, Dictionary<string, object> more = null)
    {
        var id = Interlocked.Increment(ref last).ToString();
        var happened = new Dictionary<string, object>(more ?? new())
        {
            ["specversion"] = "1.0", ["id"] = id, ["type"] = type, ["source"] = source,
            ["time"] = DateTime.UtcNow.ToString("yyyy-MM-ddTHH:mm:ss.fffZ"),
        };
        waiting.Add(happened);
        return id;
    }

    private async Task Send()
    {
        foreach (var first in waiting.GetConsumingEnumerable())
        {
            var events = new List<Dictionary<string, object>> { first };
            while (events.Count < 500 && waiting.TryTake(out var more)) events.Add(more);
            using var body = new StringContent(JsonSerializer.Serialize(events), Encoding.UTF8);
            body.Headers.ContentType = new MediaTypeHeaderValue("application/cloudevents-batch+json");
            try { (await client.PostAsync(address, body)).Dispose(); }
            catch (HttpRequestException) { /* A game goes on when nobody listens. */ }
        }
    }
}

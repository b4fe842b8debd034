package ask_test

import (
	"context"
	"encoding/json"
	"fmt"

	"zealousknot/internal/core/ask"
)

// A question is asked as JSON, wherever it is asked; the zero Env has no store and keeps
// nothing.
func ExampleQuestion_Ask() {
	answer, err := ask.Find("calc-swing").Ask(context.Background(), ask.Env{}, nil, []byte(`{"rope_length_m": 30, "offset_m": 4}`))
	text, _ := json.Marshal(answer)
	fmt.Println(string(text), err)
	_, err = ask.Find("calc-swing").Ask(context.Background(), ask.Env{}, nil, []byte(`{"rope_length_m": 30, "offset_m": 40}`))
	fmt.Println(err)
	// Output:
	// {"speed_m_s":2.2920880603580462,"equal_drop_m":0.26786250536298895,"angle_deg":7.662255660766065} <nil>
	// /offset_m: must not be more than rope_length_m, 30 m
}
